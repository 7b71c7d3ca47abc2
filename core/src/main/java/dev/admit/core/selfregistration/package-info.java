/**
 * Clients that register themselves (RFC 7591) and manage their registration (RFC 7592), within limits that an issuer
 * sets. Registering grants nothing: what such a client may do is what people approve for themselves, and what an
 * administrator grants afterwards.
 */
@NullMarked
package dev.admit.core.selfregistration;

import org.jspecify.annotations.NullMarked;
