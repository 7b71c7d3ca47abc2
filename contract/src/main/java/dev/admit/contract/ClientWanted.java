package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.List;

/** A client as it is wanted. @param asks scope names, on registration only, @param secretLifetime such as 90d */
public record ClientWanted(String name, String title, String kind, @JsonProperty("auth_method") String authMethod,
        String owner, List<String> asks, @JsonProperty("secret_lifetime") String secretLifetime) {}
