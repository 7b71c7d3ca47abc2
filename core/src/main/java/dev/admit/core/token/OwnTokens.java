package dev.admit.core.token;

import dev.admit.core.key.IssuerKeys;
import dev.admit.core.key.VerifyingKey;
import java.time.Instant;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * The tokens that an issuer of this service mints (RFC 9068 §2.2).
 *
 * @param url the issuer identifier as tokens carry it
 */
public record OwnTokens(String id, String url, IssuerKeys keys) implements TokenSource {
    private static final Set<String> STANDARD =
            Set.of("iss", "sub", "client_id", "aud", "scope", "jti", "iat", "nbf", "exp");
    private static final List<String> TYPES = List.of("at+jwt");

    @Override
    public Optional<? extends VerifyingKey> keyNamed(String kid, Instant now) {
        return kid == null ? Optional.empty() : keys.withId(kid, now);
    }

    @Override
    public boolean isGood(VerifyingKey key, Instant now) {
        return keys.isGood(key, now);
    }

    @Override
    public List<String> types() {
        return TYPES;
    }

    @Override
    public VerifiedToken read(Map<String, Object> claims, VerifyingKey key, long print) throws UnusableClaim {
        List<String> audiences = ReadClaims.audiences(claims);
        TokenId tokenId = TokenId.read(ReadClaims.text(claims, "jti")).orElseThrow(() -> new UnusableClaim("jti"));
        if (!keys.canHaveSigned(key, tokenId.time()))
            throw new UnusableClaim("jti: its key was not the active one then");
        String scope = claims.get("scope") instanceof String text ? text : "";
        return new VerifiedToken(
                Optional.of(key),
                id,
                id,
                ReadClaims.text(claims, "iss"),
                ReadClaims.text(claims, "sub"),
                ReadClaims.text(claims, "client_id"),
                audiences,
                String.join(" ", audiences),
                scope.isEmpty() ? List.of() : List.of(scope.split(" ")),
                scope,
                tokenId,
                ReadClaims.seconds(claims, "iat"),
                claims.containsKey("nbf") ? ReadClaims.seconds(claims, "nbf") : 0,
                ReadClaims.seconds(claims, "exp"),
                extra(claims),
                "");
    }

    private static Map<String, Object> extra(Map<String, Object> claims) {
        Map<String, Object> extra = new LinkedHashMap<>(claims);
        extra.keySet().removeAll(STANDARD);
        return extra.isEmpty() ? Map.of() : Collections.unmodifiableMap(extra);
    }
}
