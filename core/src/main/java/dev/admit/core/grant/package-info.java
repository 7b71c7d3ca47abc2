/**
 * The token endpoint. {@link dev.admit.core.grant.IssueToken} is the line that a request takes; each grant type is a
 * class of its own (RFC 6749, RFC 8628).
 */
package dev.admit.core.grant;
