package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * An issuer elsewhere that is trusted.
 *
 * @param kids the ids of its keys that are known
 * @param foundAt when they were last found
 * @param fault of the last look for them
 */
public record TrustedIssuerView(
        String id,
        String name,
        String url,
        @Nullable String metadata,
        @JsonProperty("jwks_uri") @Nullable String jwksUri,
        boolean pasted,
        List<String> algorithms,
        List<String> types,
        @Nullable String audience,
        @JsonProperty("scope_claim") String scopeClaim,
        @JsonProperty("roles_claim") String rolesClaim,
        @JsonProperty("person_claim") String personClaim,
        @JsonProperty("client_claim") String clientClaim,
        Map<String, String> scopes,
        Map<String, String> clients,
        List<String> kids,
        @JsonProperty("found_at") @Nullable Instant foundAt,
        @Nullable String fault,
        long version,
        @JsonProperty("created_at") Instant createdAt) {}
