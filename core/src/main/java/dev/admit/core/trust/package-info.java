/**
 * Issuers elsewhere whose tokens a route may accept: their keys, what their claims mean here, and the check of a token.
 */
@NullMarked
package dev.admit.core.trust;

import org.jspecify.annotations.NullMarked;
