/** Running the service: backup, health, what is told to the one who looks on. */
@NullMarked
package dev.admit.server.operations;

import org.jspecify.annotations.NullMarked;
