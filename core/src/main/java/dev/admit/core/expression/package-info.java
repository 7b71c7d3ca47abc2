/** Expressions in CEL, bounded in time and size, for claims and conditions. */
package dev.admit.core.expression;
