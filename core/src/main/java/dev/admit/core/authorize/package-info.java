/**
 * The authorization endpoint: what a client may request, what a person still has to do, and the code at the end (RFC
 * 6749 §4.1, RFC 7636, OpenID Connect Core).
 */
@NullMarked
package dev.admit.core.authorize;

import org.jspecify.annotations.NullMarked;
