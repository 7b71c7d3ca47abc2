package dev.admit.core.token;

import com.nimbusds.jose.Header;
import com.nimbusds.jose.JOSEException;
import com.nimbusds.jose.JWSHeader;
import com.nimbusds.jose.util.Base64URL;
import com.nimbusds.jose.util.JSONObjectUtils;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Decision;
import dev.admit.core.decision.Mend;
import dev.admit.core.decision.Reason;
import dev.admit.core.key.IssuerKeys;
import dev.admit.core.key.SigningKey;
import java.nio.charset.StandardCharsets;
import java.text.ParseException;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * Checks the form and the signature of an access token: RFC 9068 §4 with RFC 8725 §3. The signature comes ahead of
 * iss and aud, so that no sentence quotes an unsigned claim; the issuer's name alone is read before it, to choose
 * among the keys of that issuer and no other.
 */
public final class VerifyToken {
    private static final int LONGEST = 8192;
    private static final Mend FETCH_ANOTHER = Mend.of("Fetch a new token from the issuer and send it whole.");

    private VerifyToken() {}

    /** The verified token, or empty when a check refused; the decision says which. */
    public static Optional<VerifiedToken> verify(String token, TokenSource source, Decision.Builder decision) {
        Optional<Parts> parts = split(token, decision);
        if (parts.isEmpty()) return Optional.empty();
        Optional<SigningKey> key = chooseKey(parts.get(), source.url(), source.keys(), decision);
        if (key.isEmpty()) return Optional.empty();
        if (!signatureHolds(parts.get(), key.get(), decision)) return Optional.empty();
        return readClaims(parts.get(), source.issuerId(), key.get(), decision);
    }

    private record Parts(JWSHeader header, byte[] signingInput, Base64URL signature, Map<String, Object> claims) {}

    private static Optional<Parts> split(String token, Decision.Builder decision) {
        if (token.length() > LONGEST) return malformed("a token of more than " + LONGEST + " characters", decision);
        String[] three = token.split("\\.", -1);
        if (three.length != 3) return malformed("a token that is no signed JWT", decision);
        Header header;
        try {
            header = Header.parse(new Base64URL(three[0]));
        } catch (ParseException | IllegalArgumentException unreadable) {
            return malformed("a token whose header cannot be read", decision);
        }
        // RFC 8725 §3.1, §3.2: none and every algorithm that is not a key's own are refused, whatever the header says.
        if (!(header instanceof JWSHeader signed)) {
            decision.add(CheckResult.refused("algorithm", Reason.WRONG_ALGORITHM, "a signature",
                    "a token without one", FETCH_ANOTHER));
            return Optional.empty();
        }
        // RFC 7515 §4.1.11: what is critical and not understood refuses.
        if (signed.getCriticalParams() != null && !signed.getCriticalParams().isEmpty()) {
            decision.add(CheckResult.refused("critical-headers", Reason.UNKNOWN_CRITICAL_HEADER,
                    "no critical header parameter", "one that Admit does not know", FETCH_ANOTHER));
            return Optional.empty();
        }
        try {
            Map<String, Object> claims = JSONObjectUtils.parse(new Base64URL(three[1]).decodeToString());
            byte[] signingInput = token.substring(0, token.lastIndexOf('.')).getBytes(StandardCharsets.US_ASCII); // RFC 7515 §5.2
            decision.add(FORM);
            return Optional.of(new Parts(signed, signingInput, new Base64URL(three[2]), claims));
        } catch (ParseException | IllegalArgumentException unreadable) {
            return malformed("a token whose claims cannot be read", decision);
        }
    }

    private static final CheckResult FORM = CheckResult.passed("form", "a signed JWT", "a signed JWT");

    private static Optional<Parts> malformed(String came, Decision.Builder decision) {
        decision.add(CheckResult.refused("form", Reason.MALFORMED_TOKEN, "a signed JWT in compact form", came, FETCH_ANOTHER));
        return Optional.empty();
    }

    private static Optional<SigningKey> chooseKey(Parts parts, String issuer, IssuerKeys keys, Decision.Builder decision) {
        // RFC 9068 §4, RFC 8725 §3.8: the issuer first, as an exact string; then its keys. jku, jwk, x5u, x5c are never looked at.
        if (!issuer.equals(parts.claims().get("iss"))) {
            decision.add(CheckResult.refused("issuer", Reason.WRONG_ISSUER, issuer, "a token that names another issuer",
                    Mend.of("Fetch the token from %s.".formatted(issuer))));
            return Optional.empty();
        }
        decision.add(CheckResult.passed("issuer", issuer, issuer));
        Optional<SigningKey> key = Optional.ofNullable(parts.header().getKeyID()).flatMap(kid -> keys.withId(kid, decision.at()));
        if (key.isEmpty()) {
            decision.add(CheckResult.refused("key", Reason.UNKNOWN_KEY, "the id of a key of this issuer",
                    parts.header().getKeyID() == null ? "no key id" : "the id of no such key", FETCH_ANOTHER));
            return key;
        }
        if (!key.get().algorithm().equals(parts.header().getAlgorithm())) {
            decision.add(CheckResult.refused("algorithm", Reason.WRONG_ALGORITHM, key.get().algorithm().getName(),
                    "another algorithm than the key is for", FETCH_ANOTHER));
            return Optional.empty();
        }
        return key;
    }

    private static boolean signatureHolds(Parts parts, SigningKey key, Decision.Builder decision) {
        boolean good;
        try {
            good = key.verifier().verify(parts.header(), parts.signingInput(), parts.signature());
        } catch (JOSEException unfit) {
            good = false;
        }
        decision.add(good
                ? CheckResult.passed("signature", "a signature by a key of the issuer", key.kid())
                : CheckResult.refused("signature", Reason.BAD_SIGNATURE, "a signature by a key of the issuer",
                        "one that does not fit the token", FETCH_ANOTHER));
        return good;
    }

    private static Optional<VerifiedToken> readClaims(Parts parts, String issuerId, SigningKey key, Decision.Builder decision) {
        // RFC 9068 §4: typ is at+jwt or application/at+jwt, so that an ID token never passes for an access token.
        String type = parts.header().getType() == null ? "no type" : parts.header().getType().getType();
        if (!type.equalsIgnoreCase("at+jwt") && !type.equalsIgnoreCase("application/at+jwt")) {
            decision.add(CheckResult.refused("type", Reason.WRONG_TYPE, "at+jwt", type,
                    Mend.of("Send the access token, not another token of the same answer.")));
            return Optional.empty();
        }
        try {
            Map<String, Object> claims = parts.claims();
            List<String> audiences = audiences(claims.get("aud"));
            String scope = claims.get("scope") instanceof String text ? text : "";
            VerifiedToken token = new VerifiedToken(Optional.of(key), issuerId, text(claims, "iss"), text(claims, "sub"), text(claims, "client_id"),
                    audiences, String.join(" ", audiences), scope.isEmpty() ? List.of() : List.of(scope.split(" ")), scope,
                    TokenId.read(text(claims, "jti")).orElseThrow(() -> new MissingClaim("jti")), seconds(claims, "iat"),
                    claims.containsKey("nbf") ? seconds(claims, "nbf") : 0, seconds(claims, "exp"), extra(claims));
            decision.add(TYPE);
            return Optional.of(token);
        } catch (MissingClaim missing) {
            // RFC 9068 §2.2: these claims are always there in what this issuer mints.
            decision.add(CheckResult.refused("claims", Reason.MALFORMED_TOKEN, "iss, sub, aud, exp, iat, jti, client_id",
                    "no usable " + missing.getMessage(), FETCH_ANOTHER));
            return Optional.empty();
        }
    }

    private static final Set<String> STANDARD = Set.of("iss", "sub", "client_id", "aud", "scope", "jti", "iat", "nbf", "exp");

    private static Map<String, Object> extra(Map<String, Object> claims) {
        Map<String, Object> extra = new LinkedHashMap<>(claims);
        extra.keySet().removeAll(STANDARD);
        return extra.isEmpty() ? Map.of() : Collections.unmodifiableMap(extra);
    }

    private static final CheckResult TYPE = CheckResult.passed("type", "at+jwt", "at+jwt");

    private static final class MissingClaim extends Exception {
        MissingClaim(String claim) {
            super(claim);
        }
    }

    private static String text(Map<String, Object> claims, String name) throws MissingClaim {
        if (claims.get(name) instanceof String text && !text.isEmpty()) return text;
        throw new MissingClaim(name);
    }

    private static long seconds(Map<String, Object> claims, String name) throws MissingClaim {
        if (claims.get(name) instanceof Number number) return number.longValue();
        throw new MissingClaim(name);
    }

    private static List<String> audiences(Object aud) throws MissingClaim {
        if (aud instanceof String one) return List.of(one);
        if (aud instanceof List<?> many && !many.isEmpty() && many.stream().allMatch(String.class::isInstance)) {
            return many.stream().map(String.class::cast).toList();
        }
        throw new MissingClaim("aud");
    }
}
