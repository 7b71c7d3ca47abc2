package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.List;

/** A role as it is wanted; what is left out of a change stays. */
public record RoleWanted(
        String name,
        String title,
        List<String> scopes,
        @JsonProperty("second_factor") Boolean secondFactor) {}
