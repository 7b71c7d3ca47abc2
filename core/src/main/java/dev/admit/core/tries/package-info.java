/**
 * Tries at secrets, counted by address and network, so that guessing stays slow and nobody can lock another person out.
 */
package dev.admit.core.tries;
