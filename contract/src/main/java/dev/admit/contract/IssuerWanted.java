package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.List;

/** An issuer as it is wanted; what is left out is as usual, or stays. @param keyRotation such as 90d, or none */
public record IssuerWanted(
        String name,
        String title,
        String description,
        List<String> domains,
        @JsonProperty("key_rotation") String keyRotation,
        @JsonProperty("secret_lifetime") String secretLifetime,
        @JsonProperty("longest_secret") String longestSecret,
        @JsonProperty("secrets_without_end") Boolean secretsWithoutEnd,
        @JsonProperty("development_addresses") Boolean developmentAddresses,
        @JsonProperty("grant_types") List<String> grantTypes,
        PeopleRulesView people) {}
