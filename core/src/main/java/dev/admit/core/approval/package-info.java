/**
 * Requested scopes and the answers to them: by an administrator for everyone, by a person for themselves, or ahead for
 * clients that fit; and what ends when an answer is withdrawn.
 */
@NullMarked
package dev.admit.core.approval;

import org.jspecify.annotations.NullMarked;
