/** The configuration in force: compiled from the records into one immutable snapshot, and swapped at once. */
@NullMarked
package dev.admit.core.configuration;

import org.jspecify.annotations.NullMarked;
