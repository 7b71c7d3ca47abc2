/** The endpoints of OAuth 2.0 and OpenID Connect: forms in, JSON out, errors in the words of the standards. */
@NullMarked
package dev.admit.server.protocol;

import org.jspecify.annotations.NullMarked;
