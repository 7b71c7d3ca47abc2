package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.List;

/**
 * How much passes a route. @param rates such as 60 per 1m by client, @param quotas such as 100000 per month by
 * client, @param headers bytes of all headers, @param concurrent requests under way, @param body bytes of the largest
 * body
 */
public record RouteLimits(
        List<String> rates,
        List<String> quotas,
        @JsonProperty("concurrent") Integer concurrent,
        Long body,
        Integer headers) {}
