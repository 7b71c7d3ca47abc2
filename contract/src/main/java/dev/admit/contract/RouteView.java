package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * A route.
 *
 * @param methods empty for any
 * @param cors whether pages of browser clients may call it
 * @param mode all-of or any-of the scopes
 * @param who null when nothing is asked, as the next two
 * @param sentences what is in force there, in words
 */
public record RouteView(
        String id,
        List<String> methods,
        String path,
        @Nullable String api,
        List<String> scopes,
        @OneOf({"all-of", "any-of"}) @Nullable String mode,
        Boolean open,
        @JsonProperty("any_scope") Boolean anyScope,
        @Nullable String upstream,
        @JsonProperty("fixed_response") @Nullable FixedResponse fixedResponse,
        boolean cors,
        @Nullable RouteWho who,
        @Nullable RouteTransform transform,
        @Nullable RouteTimeouts timeouts,
        @Nullable RouteLimits limits,
        List<String> sentences,
        long version,
        @JsonProperty("created_at") Instant createdAt) {}
