/**
 * An authorization and all that came from it: code, refresh tokens, device requests. The whole grant ends when one
 * secret of it is used twice (RFC 9700 §4.14).
 */
@NullMarked
package dev.admit.core.authorization;

import org.jspecify.annotations.NullMarked;
