package dev.admit.core.token;

import dev.admit.core.key.VerifyingKey;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * The claims of an access token whose signature and form were found good. Lifetime, audience, scopes and revocation are
 * not part of that: they are checked on every request.
 *
 * @param key what it was signed with; it holds only while that key verifies for its issuer. Empty for an opaque one
 * @param source the id of the {@link TokenSource} that it is of
 * @param issuerId the issuer here that vouches for it: its own, or the one that trusts its own
 * @param scopeText the scopes as the token has them, space-separated
 * @param audienceText the audiences as people read them
 * @param notBefore in epoch seconds, like the other times; 0 when the token has none
 * @param extra the claims that minting added
 * @param theirScopes what stood in a token of a trusted issuer, where its scopes count as others here; empty for a
 *     token of our own
 */
public record VerifiedToken(
        Optional<VerifyingKey> key,
        String source,
        String issuerId,
        String issuer,
        String subject,
        String clientId,
        List<String> audiences,
        String audienceText,
        List<String> scopes,
        String scopeText,
        TokenId id,
        long issuedAt,
        long notBefore,
        long expiresAt,
        Map<String, Object> extra,
        String theirScopes)
        implements Revocations.Revocable {

    /** Whether a client acts on its own, not for a person (RFC 9068 §2.2: sub is then the client). */
    public boolean isClientsOwn() {
        return subject.equals(clientId);
    }

    /** Whether a trusted issuer minted it. */
    public boolean isFromElsewhere() {
        return !source.equals(issuerId);
    }

    @Override
    public String sessionId() {
        return extra.get("sid") instanceof String sid ? sid : "";
    }

    @Override
    public String grantId() {
        return extra.get(MintAccessToken.FAMILY) instanceof String grant ? grant : "";
    }

    /** All of them, by name; whole numbers as long. */
    public Map<String, Object> claims() {
        Map<String, Object> claims = new HashMap<>(extra);
        claims.replaceAll((name, value) -> value instanceof Integer number ? (Object) number.longValue() : value);
        claims.put("iss", issuer);
        claims.put("sub", subject);
        claims.put("client_id", clientId);
        claims.put("aud", audiences);
        claims.put("scope", scopes);
        claims.put("iat", issuedAt);
        claims.put("exp", expiresAt);
        return claims;
    }

    static VerifiedToken of(OpaqueToken it, String issuer) {
        return new VerifiedToken(
                Optional.empty(),
                it.issuerId(),
                it.issuerId(),
                issuer,
                it.subject(),
                it.clientId(),
                List.of(it.audience()),
                it.audience(),
                it.scopes(),
                String.join(" ", it.scopes()),
                it.id(),
                it.issuedAt().getEpochSecond(),
                0,
                it.expiresAt().getEpochSecond(),
                it.claims(),
                "");
    }
}
