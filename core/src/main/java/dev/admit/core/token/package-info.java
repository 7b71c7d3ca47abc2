/**
 * Access tokens: making, reading and verifying them, the checks of their claims, and revocation by time-ordered ids
 * (RFC 7519, RFC 9068).
 */
package dev.admit.core.token;
