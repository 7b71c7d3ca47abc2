package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.time.Instant;
import org.jspecify.annotations.Nullable;

/**
 * A token that was issued.
 *
 * @param ended why it is no longer active; null while it may be
 */
public record IssuedView(
        @JsonProperty("token_id") String tokenId,
        String client,
        @JsonProperty("client_id") String clientId,
        String api,
        String scope,
        @JsonProperty("issued_at") Instant issuedAt,
        @JsonProperty("expires_at") Instant expiresAt,
        String from,
        @Nullable String ended) {}
