/** Programs that ship with the service for developers to copy, with the settings that they read. */
@NullMarked
package dev.admit.server.programs;

import org.jspecify.annotations.NullMarked;
