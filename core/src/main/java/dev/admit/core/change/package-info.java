/** What every change has in common: the actor, the version that was expected, faults by field, and the outcome. */
package dev.admit.core.change;
