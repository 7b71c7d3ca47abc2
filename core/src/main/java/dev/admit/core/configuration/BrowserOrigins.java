package dev.admit.core.configuration;

import java.util.Map;
import java.util.Set;
import java.util.function.Supplier;

/** From which origins pages of browser clients call, by issuer: held in memory, and read anew when a client changes. */
public final class BrowserOrigins {
    private final Supplier<Map<String, Set<String>>> source;
    private volatile Map<String, Set<String>> byIssuer = Map.of();

    /** @param source the origins of the browser clients that are switched on, by the id of the issuer */
    public BrowserOrigins(Supplier<Map<String, Set<String>>> source) {
        this.source = source;
        refresh();
    }

    /** To be called after each change of a client, before that is answered. */
    public void refresh() {
        byIssuer = source.get();
    }

    public boolean allows(String issuerId, String origin) {
        return byIssuer.getOrDefault(issuerId, Set.of()).contains(origin);
    }
}
