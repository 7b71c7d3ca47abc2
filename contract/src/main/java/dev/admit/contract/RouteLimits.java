package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * How much passes a route.
 *
 * @param rates such as 60 per 1m by client
 * @param quotas such as 100000 per month by client
 * @param headers bytes of all headers
 * @param concurrent requests under way
 * @param body bytes of the largest body
 */
public record RouteLimits(
        @Nullable List<String> rates,
        @Nullable List<String> quotas,
        @JsonProperty("concurrent") @Nullable Integer concurrent,
        @Nullable Long body,
        @Nullable Integer headers) {}
