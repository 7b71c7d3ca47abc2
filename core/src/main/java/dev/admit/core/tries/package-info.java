/**
 * Tries at secrets, counted by address and network, so that guessing stays slow and nobody can lock another person out.
 */
@NullMarked
package dev.admit.core.tries;

import org.jspecify.annotations.NullMarked;
