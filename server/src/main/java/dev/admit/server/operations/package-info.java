/** Running the service: backup, health, what is told to the one who looks on. */
package dev.admit.server.operations;
