package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.time.Instant;

/**
 * An initial access token (RFC 7591 §3), without itself.
 *
 * @param uses how many clients it may still register
 * @param limits of the clients that register with it
 * @param madeBy who made it
 */
public record InitialAccessTokenView(
        String id,
        String label,
        int uses,
        RegistrationLimits limits,
        @JsonProperty("expires_at") Instant expiresAt,
        @JsonProperty("made_by") String madeBy,
        @JsonProperty("made_at") Instant madeAt) {}
