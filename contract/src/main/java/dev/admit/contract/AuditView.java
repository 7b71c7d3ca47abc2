package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.time.Instant;
import org.jspecify.annotations.Nullable;

/**
 * One line of the audit.
 *
 * @param before as JSON text, empty where there was nothing; of a change only what differs
 * @param after likewise
 * @param token the id of the token it is about; null when it is about none
 * @param hash SHA-256 over the line before and this one
 */
public record AuditView(
        long seq,
        Instant at,
        String what,
        String who,
        @JsonProperty("who_id") String whoId,
        String from,
        String on,
        String before,
        String after,
        @Nullable String token,
        @JsonProperty("expires_at") @Nullable Instant expiresAt,
        String hash) {}
