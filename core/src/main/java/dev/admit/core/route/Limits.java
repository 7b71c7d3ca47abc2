package dev.admit.core.route;

import java.time.Duration;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * How much passes a route.
 *
 * @param rates  each counts on its own
 * @param atOnce how many requests may be under way
 * @param body   the largest request body, in bytes; empty for the gateway's own limit
 */
public record Limits(List<Rate> rates, Optional<Integer> atOnce, Optional<Long> body) {
    public static final Limits NONE = new Limits(List.of(), Optional.empty(), Optional.empty());

    /** Whose requests are counted together. */
    public enum By {
        CLIENT, PERSON, ADDRESS, ROUTE;

        @Override public String toString() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    /** So many requests in so long a time; they come back little by little. */
    public record Rate(By by, int requests, Duration per) {
        @Override public String toString() {
            return "%d per %s by %s".formatted(requests, dev.admit.core.change.Fields.written(per), by);
        }
    }
}
