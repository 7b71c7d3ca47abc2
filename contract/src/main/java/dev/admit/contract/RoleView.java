package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.List;

/** A named set of an API's scopes. */
public record RoleView(
        String id,
        String name,
        String title,
        String api,
        List<String> scopes,
        @JsonProperty("second_factor") boolean secondFactor,
        long version) {}
