package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.time.Instant;
import java.util.List;
import java.util.Map;

/**
 * Who can call what, and what passed since a time.
 *
 * @param together whether clients that may do the same are put together
 * @param clients how many there are that fit
 */
public record AccessMapView(
        List<Caller> callers,
        List<ScopeView> scopes,
        List<RouteView> routes,
        List<Traffic> traffic,
        List<Traffic> unknown,
        int clients,
        boolean together,
        Instant since) {
    /** @param scopes scope → the state of its approval */
    public record Caller(
            String id, String kind, boolean enabled, List<String> names, int members, Map<String, String> scopes) {}

    /**
     * @param caller empty for an unknown caller
     * @param route as decisions name it
     */
    public record Traffic(
            String caller, @JsonProperty("route") String route, long admitted, long refused) {}
}
