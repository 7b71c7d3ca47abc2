/**
 * Who changed what, as a chain of lines in which each holds the hash of the line before. A change writes its line in
 * its own transaction.
 */
@NullMarked
package dev.admit.core.audit;

import org.jspecify.annotations.NullMarked;
