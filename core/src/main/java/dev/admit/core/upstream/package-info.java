/**
 * What the gateway itself presents to an upstream: a fixed header, a login, or a token that it fetches as a client of
 * another issuer. The secret is sealed where it is kept.
 */
@NullMarked
package dev.admit.core.upstream;

import org.jspecify.annotations.NullMarked;
