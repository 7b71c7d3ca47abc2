/**
 * The gateway: Jetty handlers that turn bytes into a request of the core, and its verdict into forwarding, a fixed
 * response or a refusal.
 */
@NullMarked
package dev.admit.gateway;

import org.jspecify.annotations.NullMarked;
