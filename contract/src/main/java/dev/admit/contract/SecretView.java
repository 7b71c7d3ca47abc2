package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.time.Instant;

/** A secret of a client, without what it is. */
public record SecretView(String id, String label, @JsonProperty("created_at") Instant createdAt,
        @JsonProperty("expires_at") Instant expiresAt) {}
