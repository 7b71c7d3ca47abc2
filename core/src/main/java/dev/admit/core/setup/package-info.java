/**
 * Setup files: an issuer as one document, compared with what is there, loaded altogether or not at all, and exported.
 */
@NullMarked
package dev.admit.core.setup;

import org.jspecify.annotations.NullMarked;
