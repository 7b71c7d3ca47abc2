package dev.admit.core.token;

import dev.admit.core.registry.SecretHash;
import java.security.SecureRandom;
import java.time.Instant;
import java.util.Base64;
import java.util.List;
import java.util.Map;

/**
 * An access token that says nothing to who holds it; what it stands for is kept, under its hash.
 *
 * @param claims what minting added
 */
public record OpaqueToken(
        SecretHash hash,
        TokenId id,
        String issuerId,
        String clientId,
        String subject,
        String audience,
        List<String> scopes,
        Map<String, Object> claims,
        Instant issuedAt,
        Instant expiresAt) {
    /** By it a token is told from a JWT, and scanners find one that was committed by mistake. */
    public static final String PREFIX = "admat_";

    private static final SecureRandom RANDOM = new SecureRandom();

    /** The text of a fresh one: 256 random bits. */
    public static String text() {
        byte[] bytes = new byte[32];
        RANDOM.nextBytes(bytes);
        return PREFIX + Base64.getUrlEncoder().withoutPadding().encodeToString(bytes);
    }

    static boolean isOne(String token) {
        return token.startsWith(PREFIX) && token.length() == PREFIX.length() + 43;
    }
}
