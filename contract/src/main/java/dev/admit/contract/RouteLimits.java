package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * How much passes a route.
 *
 * @param rates such as '60 per 1m by client' (or person, address, route)
 * @param quotas such as '100000 per month by client' (or day; person, route)
 * @param concurrent at most so many requests under way
 * @param body bytes of the largest body
 * @param headers bytes of all headers
 */
public record RouteLimits(
        @Nullable List<String> rates,
        @Nullable List<String> quotas,
        @JsonProperty("concurrent") @Nullable Integer concurrent,
        @Nullable Long body,
        @Nullable Integer headers) {}
