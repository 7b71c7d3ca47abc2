/**
 * Access tokens: making, reading and verifying them, the checks of their claims, and revocation by time-ordered ids
 * (RFC 7519, RFC 9068).
 */
@NullMarked
package dev.admit.core.token;

import org.jspecify.annotations.NullMarked;
