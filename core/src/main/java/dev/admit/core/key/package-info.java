/**
 * The keys of an issuer: their order from upcoming over active to retired, rotation, and the sealing of what is secret
 * under the master key.
 */
@NullMarked
package dev.admit.core.key;

import org.jspecify.annotations.NullMarked;
