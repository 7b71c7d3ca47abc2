/**
 * What can be done with a token that was issued: introspection (RFC 7662), revocation (RFC 7009), and the count of
 * those that may still be active.
 */
@NullMarked
package dev.admit.core.issued;

import org.jspecify.annotations.NullMarked;
