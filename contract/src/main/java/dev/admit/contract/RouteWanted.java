package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.List;

/**
 * A route as it is wanted; a change puts it whole in the place of the old one.
 *
 * @param open true, said on purpose, lets anyone pass without a token
 * @param cors whether pages of browser clients may call it from their own origin
 * @param who what else must be so for a token to pass
 * @param transform what is done to request and answer
 * @param limits how much passes
 * @param anyScope true, said on purpose, lets any token of the API pass
 */
public record RouteWanted(
        List<String> methods,
        String path,
        String api,
        List<String> scopes,
        String mode,
        Boolean open,
        @JsonProperty("any_scope") Boolean anyScope,
        String upstream,
        @JsonProperty("fixed_response") FixedResponse fixedResponse,
        Boolean cors,
        RouteWho who,
        RouteTransform transform,
        RouteTimeouts timeouts,
        RouteLimits limits) {}
