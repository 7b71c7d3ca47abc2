package dev.admit.core.token;

import com.nimbusds.jose.JOSEException;
import com.nimbusds.jose.JOSEObjectType;
import com.nimbusds.jose.JWSHeader;
import com.nimbusds.jose.JWSObject;
import com.nimbusds.jose.Payload;
import dev.admit.core.key.SigningFault;
import dev.admit.core.key.SigningKey;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Mints access tokens in the form of RFC 9068 §2 and keeps no copy. */
public final class MintAccessToken {
    /** RFC 9068 §2.1: the media type without {@code application/}. */
    static final JOSEObjectType TYPE = new JOSEObjectType("at+jwt");

    /** By this claim all that one authorization led to is found, and ended. */
    public static final String FAMILY = "grant";

    private MintAccessToken() {}

    /**
     * For whom a token is, when it is not for the client itself.
     *
     * @param sessionId empty where it goes on without one
     * @param methods of RFC 8176
     */
    public record OnBehalf(Optional<String> sessionId, String grantId, Instant authTime, List<String> methods) {
        /** How sure the sign-in was: one factor, or two. */
        public String acr() {
            return acr(methods);
        }

        public static String acr(List<String> methods) {
            return methods.contains("mfa") ? "urn:admit:acr:2" : "urn:admit:acr:1";
        }
    }

    /**
     * What a token says.
     *
     * @param scopes already narrowed to what was approved
     * @param expiresAt in whole seconds
     * @param extra what minting adds
     */
    public record Grant(
            String issuer,
            String subject,
            String audience,
            String clientId,
            List<String> scopes,
            Instant issuedAt,
            Instant expiresAt,
            TokenId id,
            Map<String, Object> extra,
            Optional<OnBehalf> onBehalf) {}

    /**
     * @return a signed JWT in compact form
     * @throws SigningFault when the key cannot sign; retrying does not help
     */
    public static String mint(Grant grant, SigningKey key) {
        JWSObject token = new JWSObject(
                new JWSHeader.Builder(key.algorithm())
                        .type(TYPE)
                        .keyID(key.kid())
                        .build(),
                new Payload(claims(grant)));
        try {
            token.sign(key.signer());
        } catch (JOSEException broken) {
            throw new SigningFault("the key " + key.kid() + " does not sign", broken);
        }
        return token.serialize();
    }

    /**
     * What the token will say (RFC 9068 §2.2), what minting adds before it, so that nothing of it can replace what the
     * standard wants.
     */
    public static Map<String, Object> claims(Grant grant) {
        Map<String, Object> claims = new LinkedHashMap<>(grant.extra());
        claims.put("iss", grant.issuer());
        claims.put("sub", grant.subject());
        claims.put("aud", grant.audience());
        claims.put("exp", grant.expiresAt().getEpochSecond());
        claims.put("iat", grant.issuedAt().getEpochSecond());
        claims.put("jti", grant.id().toString());
        claims.put("client_id", grant.clientId());
        claims.put("scope", String.join(" ", grant.scopes()));
        grant.onBehalf().ifPresent(it -> put(it, claims));
        return claims;
    }

    /** What is kept of an opaque token beside what every one has: what minting adds, and by which sign-in it came. */
    public static Map<String, Object> claimsBesideStandard(Grant grant) {
        Map<String, Object> claims = new LinkedHashMap<>(grant.extra());
        grant.onBehalf().ifPresent(it -> put(it, claims));
        return claims;
    }

    private static void put(OnBehalf it, Map<String, Object> claims) {
        claims.put("auth_time", it.authTime().getEpochSecond());
        claims.put("acr", it.acr());
        claims.put("amr", it.methods());
        it.sessionId().ifPresent(sid -> claims.put("sid", sid));
        claims.put(FAMILY, it.grantId());
    }
}
