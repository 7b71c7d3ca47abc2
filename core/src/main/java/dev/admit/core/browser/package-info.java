/**
 * Browsers that the gateway signs in: the session in a sealed cookie, and the way to the authorization server and back.
 */
@NullMarked
package dev.admit.core.browser;

import org.jspecify.annotations.NullMarked;
