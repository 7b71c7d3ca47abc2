/**
 * Routes: patterns and which of them fits, what is checked, where a request goes and how it is transformed, and the
 * numbered revisions of all routes of an issuer.
 */
@NullMarked
package dev.admit.core.route;

import org.jspecify.annotations.NullMarked;
