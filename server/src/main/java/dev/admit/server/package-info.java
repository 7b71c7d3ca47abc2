/**
 * The authorization server: wiring, settings, start and stop. Beside it stand the protocol, the pages, the admin API
 * and the console.
 */
@NullMarked
package dev.admit.server;

import org.jspecify.annotations.NullMarked;
