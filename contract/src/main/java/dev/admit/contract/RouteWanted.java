package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * A route as it is wanted; a change puts it whole in the place of the old one.
 *
 * @param api the API whose tokens may pass
 * @param open true, said on purpose, lets anyone pass without a token
 * @param anyScope true, said on purpose, lets any token of the API pass
 * @param cors whether pages of browser clients may call it from their own origin
 * @param who what else must be so for a token to pass
 * @param transform what is done to request and answer
 * @param limits how much passes
 */
public record RouteWanted(
        @Nullable List<String> methods,
        @Nullable String path,
        @Nullable String api,
        @Nullable List<String> scopes,
        @OneOf({"all-of", "any-of"}) @Nullable String mode,
        @Nullable Boolean open,
        @JsonProperty("any_scope") @Nullable Boolean anyScope,
        @Nullable String upstream,
        @JsonProperty("fixed_response") @Nullable FixedResponse fixedResponse,
        @Nullable Boolean cors,
        @Nullable RouteWho who,
        @Nullable RouteTransform transform,
        @Nullable RouteTimeouts timeouts,
        @Nullable RouteLimits limits) {}
