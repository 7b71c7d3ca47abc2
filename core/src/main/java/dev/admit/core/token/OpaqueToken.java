package dev.admit.core.token;

import dev.admit.core.change.RandomBits;
import dev.admit.core.registry.SecretHash;
import java.time.Instant;
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

    /** The text of a fresh one: 256 random bits. */
    public static String text() {
        return PREFIX + RandomBits.text(32);
    }

    static boolean isOne(String token) {
        return token.startsWith(PREFIX) && token.length() == PREFIX.length() + 43;
    }
}
