package dev.admit.core.route;

import java.time.Duration;
import java.util.Optional;

/**
 * How long a route waits for its upstream; empty for the gateway's own time.
 *
 * @param connect until a connection to the upstream is there
 * @param idle while the upstream sends nothing
 * @param total for the whole exchange
 */
public record Timeouts(Optional<Duration> connect, Optional<Duration> idle, Optional<Duration> total) {
    public static final Timeouts NONE = new Timeouts(Optional.empty(), Optional.empty(), Optional.empty());
}
