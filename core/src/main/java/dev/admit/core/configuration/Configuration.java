package dev.admit.core.configuration;

import dev.admit.core.route.RouteTable;
import java.util.Map;
import java.util.Optional;

/** Everything configured, compiled for the request paths. Immutable; a change makes a new one. */
public record Configuration(long serial, Map<String, IssuerInForce> issuersByName, RouteTable<GuardedRoute> routes) {
    public static final Configuration EMPTY = new Configuration(0, Map.of(), new RouteTable<>(Map.of()));

    public Optional<IssuerInForce> issuer(String name) {
        return Optional.ofNullable(issuersByName.get(name));
    }
}
