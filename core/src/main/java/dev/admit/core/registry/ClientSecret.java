package dev.admit.core.registry;

import java.time.Instant;
import java.util.Optional;

/**
 * A secret of a client as it is stored: what it was is nowhere.
 *
 * @param expiresAt empty for one that never expires
 * @param usedAt when it last opened the door, to a second or so; empty while it never did
 */
public record ClientSecret(
        String id,
        String clientId,
        String label,
        SecretHash hash,
        Instant createdAt,
        Optional<Instant> expiresAt,
        Optional<Instant> usedAt) {

    public boolean isExpiredAt(Instant now) {
        return expiresAt.filter(end -> !now.isBefore(end)).isPresent();
    }

    /** The same, expiring earlier; one that expires before then anyway stays as it is. */
    public ClientSecret endingBy(Instant time) {
        boolean sooner = expiresAt.filter(end -> end.isBefore(time)).isPresent();
        return sooner ? this : new ClientSecret(id, clientId, label, hash, createdAt, Optional.of(time), usedAt);
    }

    boolean outlives(ClientSecret other) {
        return expiresAt.isEmpty()
                || other.expiresAt.isPresent() && expiresAt.get().isAfter(other.expiresAt.get());
    }

    /** Of two that match, the one that counts. */
    public static ClientSecret longer(ClientSecret one, ClientSecret other) {
        return other.outlives(one) ? other : one;
    }
}
