package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.time.Instant;
import org.jspecify.annotations.Nullable;

/**
 * A secret of a client or an API, without what it is.
 *
 * @param expiresAt null for one that never expires
 * @param usedAt null while unused
 */
public record SecretView(
        String id,
        String label,
        @JsonProperty("created_at") Instant createdAt,
        @JsonProperty("expires_at") @Nullable Instant expiresAt,
        @JsonProperty("used_at") @Nullable Instant usedAt) {}
