/** What every change has in common: the actor, the version that was expected, faults by field, and the outcome. */
@NullMarked
package dev.admit.core.change;

import org.jspecify.annotations.NullMarked;
