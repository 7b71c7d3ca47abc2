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
        @JsonProperty("max_secret_lifetime") String maxSecretLifetime,
        @JsonProperty("non_expiring_secrets") Boolean nonExpiringSecrets,
        @JsonProperty("loopback_redirects") Boolean loopbackRedirects,
        @JsonProperty("grant_types") List<String> grantTypes,
        PeopleSettingsView people) {}
