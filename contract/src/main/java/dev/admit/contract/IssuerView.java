package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.time.Instant;
import java.util.List;

/**
 * An issuer.
 *
 * @param url the issuer identifier
 * @param domains outside which an https audience wants an explicit word
 * @param keyRotation such as 90d, or none
 * @param loopbackRedirects whether clients that are not native may have plain-http redirect URIs on loopback
 * @param grantTypes that are on
 * @param people how they sign in, and what the pages look like
 * @param revision of its routes
 * @param version the ETag
 */
public record IssuerView(
        String id,
        String name,
        String title,
        String description,
        String url,
        List<String> domains,
        @JsonProperty("key_rotation") String keyRotation,
        @JsonProperty("secret_lifetime") String secretLifetime,
        @JsonProperty("max_secret_lifetime") String maxSecretLifetime,
        @JsonProperty("non_expiring_secrets") boolean nonExpiringSecrets,
        @JsonProperty("loopback_redirects") boolean loopbackRedirects,
        @JsonProperty("grant_types") List<String> grantTypes,
        PeopleSettingsView people,
        long revision,
        long version,
        @JsonProperty("created_at") Instant createdAt) {}
