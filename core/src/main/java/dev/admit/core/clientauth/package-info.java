/**
 * How a client proves itself at the token endpoint: secrets, assertions with {@code private_key_jwt}, or not at all
 * (RFC 6749 §2.3, RFC 7523).
 */
@NullMarked
package dev.admit.core.clientauth;

import org.jspecify.annotations.NullMarked;
