package dev.admit.core.authorization;

import dev.admit.core.registry.SecretHash;
import java.time.Instant;
import java.util.Optional;

/** A refresh token: good once; with what it gives comes the next. */
public record RefreshToken(
        SecretHash hash,
        String grantId,
        String clientId,
        Instant issuedAt,
        Instant expiresAt,
        Optional<Instant> usedAt) {}
