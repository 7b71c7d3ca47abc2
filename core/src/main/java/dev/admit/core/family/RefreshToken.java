package dev.admit.core.family;

import dev.admit.core.registry.SecretHash;
import java.time.Instant;
import java.util.Optional;

/** A refresh token: good once; with what it gives comes the next. */
public record RefreshToken(
        SecretHash hash,
        String familyId,
        String clientId,
        Instant issuedAt,
        Instant expiresAt,
        Optional<Instant> usedAt) {}
