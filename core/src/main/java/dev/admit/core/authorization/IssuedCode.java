package dev.admit.core.authorization;

import dev.admit.core.registry.SecretHash;
import java.time.Instant;
import java.util.Optional;

/**
 * An authorization code (RFC 6749 §4.1.2).
 *
 * @param challenge of PKCE, S256 (RFC 7636 §4.2)
 */
public record IssuedCode(
        SecretHash hash,
        String grantId,
        String clientId,
        String redirectUri,
        String challenge,
        Instant expiresAt,
        Optional<Instant> usedAt) {}
