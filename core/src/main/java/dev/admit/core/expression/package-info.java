/** Expressions in CEL, bounded in time and size, for claims and conditions. */
@NullMarked
package dev.admit.core.expression;

import org.jspecify.annotations.NullMarked;
