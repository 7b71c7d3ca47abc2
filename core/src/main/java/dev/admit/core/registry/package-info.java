/** The objects that an issuer is made of: APIs, scopes, roles, clients, and the ports by which they are kept. */
@NullMarked
package dev.admit.core.registry;

import org.jspecify.annotations.NullMarked;
