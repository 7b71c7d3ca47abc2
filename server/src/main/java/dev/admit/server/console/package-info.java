/**
 * Serves the console and stands for its person: the cookie means a session here, and the person's right is put on the
 * call.
 */
@NullMarked
package dev.admit.server.console;

import org.jspecify.annotations.NullMarked;
