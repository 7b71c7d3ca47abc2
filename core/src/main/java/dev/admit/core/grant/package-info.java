/**
 * The token endpoint. {@link dev.admit.core.grant.IssueToken} is the line that a request takes; each grant type is a
 * class of its own (RFC 6749, RFC 8628).
 */
@NullMarked
package dev.admit.core.grant;

import org.jspecify.annotations.NullMarked;
