package dev.admit.core.registry;

import java.time.Instant;

/** A secret of a client as it is stored: what it was is nowhere. */
public record ClientSecret(String id, String clientId, String label, SecretHash hash, Instant createdAt, Instant expiresAt) {

    public boolean isExpiredAt(Instant now) {
        return !now.isBefore(expiresAt);
    }
}
