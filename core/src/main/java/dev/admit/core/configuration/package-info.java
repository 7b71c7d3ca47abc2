/** The configuration in force: compiled from the records into one immutable snapshot, and swapped at once. */
package dev.admit.core.configuration;
