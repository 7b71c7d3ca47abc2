package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.time.Instant;
import java.util.List;

/**
 * A route. @param methods empty for any, @param cors whether pages of browser clients may call it, @param mode all-of
 * or any-of the scopes, @param who null when nothing is asked, as the next two
 */
public record RouteView(
        String id,
        List<String> methods,
        String path,
        String api,
        List<String> scopes,
        String mode,
        Boolean open,
        @JsonProperty("any_scope") Boolean anyScope,
        String upstream,
        @JsonProperty("fixed_response") FixedResponse fixedResponse,
        boolean cors,
        RouteWho who,
        RouteTransform transform,
        RouteTimeouts timeouts,
        RouteLimits limits,
        long version,
        @JsonProperty("created_at") Instant createdAt) {}
