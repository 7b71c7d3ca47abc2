package dev.admit.core.route;

import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.ZonedDateTime;
import java.time.temporal.ChronoUnit;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * How much passes a route.
 *
 * @param rates each counts on its own
 * @param quotas each counts on its own, and a restart does not end it
 * @param concurrent how many requests may be under way
 * @param body the largest request body, in bytes; empty for the gateway's own limit
 * @param headers the most bytes that the names and values of a request's headers may have together
 */
public record Limits(
        List<Rate> rates,
        List<Quota> quotas,
        Optional<Integer> concurrent,
        Optional<Long> body,
        Optional<Integer> headers) {
    public static final Limits NONE =
            new Limits(List.of(), List.of(), Optional.empty(), Optional.empty(), Optional.empty());

    /** What was kept before there were some of these has none. */
    public Limits {
        quotas = quotas == null ? List.of() : quotas;
        headers = headers == null ? Optional.empty() : headers;
    }

    /**
     * The largest body, in bytes.
     *
     * @param everywhere what no route can widen
     */
    public long mostBody(long everywhere) {
        return Math.min(everywhere, body().orElse(everywhere));
    }

    /** Whether requests are counted over time. */
    public boolean counts() {
        return !rates.isEmpty() || !quotas.isEmpty();
    }

    /** Whose requests are counted together. */
    public enum By {
        CLIENT,
        PERSON,
        ADDRESS,
        ROUTE;

        @Override
        public String toString() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    /** A calendar's length of time, in UTC. */
    public enum Period {
        DAY(ChronoUnit.DAYS),
        MONTH(ChronoUnit.MONTHS);

        private final ChronoUnit unit;

        Period(ChronoUnit unit) {
            this.unit = unit;
        }

        /** When the one began that a time lies in. */
        public Instant begin(Instant at) {
            ZonedDateTime day = at.atZone(ZoneOffset.UTC).truncatedTo(ChronoUnit.DAYS);
            return (this == DAY ? day : day.withDayOfMonth(1)).toInstant();
        }

        /** When it ends. */
        public Instant end(Instant at) {
            return begin(at).atZone(ZoneOffset.UTC).plus(1, unit).toInstant();
        }

        @Override
        public String toString() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    /** So many requests in a calendar day or month. */
    public record Quota(By by, long requests, Period period) {
        @Override
        public String toString() {
            return "%d per %s by %s".formatted(requests, period, by);
        }
    }

    /** So many requests in so long a time; they come back little by little. */
    public record Rate(By by, int requests, Duration per) {
        @Override
        public String toString() {
            return "%d per %s by %s".formatted(requests, dev.admit.core.change.Fields.written(per), by);
        }
    }
}
