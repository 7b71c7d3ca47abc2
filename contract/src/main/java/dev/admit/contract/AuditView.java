package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.time.Instant;

/**
 * One line of the audit. @param before and @param after as JSON text, empty where there is nothing; of a change only
 * what differs
 *
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
        String token,
        @JsonProperty("expires_at") Instant expiresAt,
        String hash) {}
