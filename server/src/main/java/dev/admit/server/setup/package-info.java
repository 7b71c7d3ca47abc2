/** Setup files as YAML. */
package dev.admit.server.setup;
