package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.List;

/**
 * How much passes a route. @param rates such as 60 per 1m by client, @param quotas such as 100000 a month by
 * client, @param headers bytes of all headers, @param atOnce requests under way, @param body bytes of the largest body
 */
public record RouteLimits(
        List<String> rates,
        List<String> quotas,
        @JsonProperty("at_once") Integer atOnce,
        Long body,
        Integer headers) {}
