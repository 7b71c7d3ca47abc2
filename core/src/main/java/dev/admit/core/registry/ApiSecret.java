package dev.admit.core.registry;

import java.time.Instant;

/** A secret with which an API proves itself at the introspection endpoint, as it is stored: what it was is nowhere. */
public record ApiSecret(String id, String apiId, String label, SecretHash hash, Instant createdAt, Instant expiresAt) {

    public boolean isExpiredAt(Instant now) {
        return !now.isBefore(expiresAt);
    }
}
