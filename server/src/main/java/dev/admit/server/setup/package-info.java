/** Setup files as YAML. */
@NullMarked
package dev.admit.server.setup;

import org.jspecify.annotations.NullMarked;
