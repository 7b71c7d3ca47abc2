package dev.admit.contract;

import org.jspecify.annotations.Nullable;

/**
 * How long a route waits for its upstream, each such as 10s; null for the gateway's own time.
 *
 * @param connect until a connection to the upstream is there
 * @param idle while the upstream sends nothing
 * @param total for the whole exchange
 */
public record RouteTimeouts(
        @Nullable String connect,
        @Nullable String idle,
        @Nullable String total) {}
