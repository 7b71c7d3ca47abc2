package dev.admit.core.limit;

import java.time.Duration;

/**
 * What one limit came to.
 *
 * @param name of the limit, as header fields have it: {@code client}, {@code client-month}
 * @param words of the limit, as people read it
 * @param most requests in the window
 * @param passes whether there was room for this request
 * @param remaining how many more there is room for now
 * @param room until there is room for one again; zero where there is
 * @param full until all of it is there again
 */
public record Count(
        String name,
        String words,
        long most,
        Duration window,
        boolean passes,
        long remaining,
        Duration room,
        Duration full) {}
