/** Running the service: backup, health, what is told to whoever looks on. */
package dev.admit.server.operations;
