/** The command line. A command is a class; it calls the admin API and prints words, or JSON with {@code --json}. */
package dev.admit.cli;
