package dev.admit.core.configuration;

import dev.admit.core.route.ReservedPaths;
import dev.admit.core.route.RouteTable;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Everything configured, compiled for the request paths. Immutable; a change makes a new one. */
public record Configuration(long serial, Map<String, CompiledIssuer> issuersByName, RouteTable<GuardedRoute> routes) {
    public static final Configuration EMPTY = new Configuration(0, Map.of(), new RouteTable<>(Map.of()));

    /**
     * Whether a path at the gateway is the authorization server's: browsers hold its cookies for the whole host,
     * whichever port it is.
     */
    public boolean isReserved(List<String> segments) {
        return !segments.isEmpty()
                && (ReservedPaths.isOwn(segments.getFirst()) || issuersByName.containsKey(segments.getFirst()));
    }

    public Optional<CompiledIssuer> issuer(String name) {
        return Optional.ofNullable(issuersByName.get(name));
    }
}
