package dev.admit.core.selfregistration;

import dev.admit.core.registry.SecretHash;
import java.time.Instant;

/**
 * What lets a client register itself (RFC 7591 §3). It grants nothing else.
 *
 * @param uses how many clients it may still register
 */
public record InitialAccessToken(
        String id,
        String issuerId,
        String label,
        SecretHash hash,
        int uses,
        Limits limits,
        Instant expiresAt,
        String madeBy,
        Instant madeAt) {
    boolean isGood(Instant now) {
        return uses > 0 && now.isBefore(expiresAt);
    }
}
