package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.List;

/** How much passes a route. @param rates such as 60 per 1m by client, @param atOnce requests under way, @param body bytes of the largest body */
public record RouteLimits(List<String> rates, @JsonProperty("at_once") Integer atOnce, Long body) {}
