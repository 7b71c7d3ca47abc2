/** The command line. A command is a class; it calls the admin API and prints words, or JSON with {@code --json}. */
@NullMarked
package dev.admit.cli;

import org.jspecify.annotations.NullMarked;
