package dev.admit.core.token;

import com.nimbusds.jose.JOSEException;
import com.nimbusds.jose.JOSEObjectType;
import com.nimbusds.jose.JWSAlgorithm;
import com.nimbusds.jose.JWSHeader;
import com.nimbusds.jose.util.Base64URL;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Checked;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import dev.admit.core.decision.Recorder;
import dev.admit.core.key.VerifyingKey;
import java.nio.ByteBuffer;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.time.Instant;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * Checks the form and the signature of an access token: RFC 9068 §4 with RFC 8725 §3. The signature comes ahead of iss
 * and aud, so that no sentence quotes an unsigned claim; the issuer's name alone is read before it, to choose among the
 * keys of that issuer and no other.
 */
public final class VerifyToken {
    private static final int LONGEST = 8192;
    private static final Fix FETCH_ANOTHER = Fix.of("Fetch a new token from the issuer and send it whole.");

    private VerifyToken() {}

    /**
     * The line of a token's first verification. Where its key is not known and looking for it is worth while, the
     * decision waits for that.
     *
     * @return the token; null when a check refused, and the decision says which
     */
    static @Nullable VerifiedToken verify(String token, List<TokenSource> sources, Recorder decision) {
        Parts parts = decision.take(split(token));
        if (parts == null) return null;
        TokenSource source = decision.take(chooseSource(parts, sources));
        if (source == null) return null;
        VerifyingKey key = decision.take(chooseKey(parts, source, decision.at()));
        if (key == null) return null;
        return decision.passes(signature(parts, key)) ? decision.take(readClaims(parts, source, key)) : null;
    }

    private record Parts(JWSHeader header, byte[] signingInput, Base64URL signature, Map<String, Object> claims) {}

    private static Checked<Parts> split(String token) {
        if (token.length() > LONGEST) return malformed("a token of more than " + LONGEST + " characters");
        Optional<CompactJws> read = CompactJws.read(token);
        if (read.isEmpty()) return malformed("a token that is no signed JWT, or another spelling of one");
        Map<String, Object> header = read.get().header();
        // RFC 7515 §4.1.11: what is critical and not understood refuses.
        if (header.containsKey("crit"))
            return Checked.refused(
                    "critical-headers",
                    Reason.UNKNOWN_CRITICAL_HEADER,
                    "no critical header parameter",
                    "one that Admit does not know",
                    FETCH_ANOTHER);
        // RFC 8725 §3.1, §3.2: none and every algorithm that is not a key's own are refused, whatever the header says.
        if (!(header.get("alg") instanceof String algorithm)
                || algorithm.equalsIgnoreCase("none")
                || algorithm.isEmpty())
            return Checked.refused(
                    "algorithm", Reason.WRONG_ALGORITHM, "a signature", "a token without one", FETCH_ANOTHER);
        if (!isTextOrAbsent(header, "kid") || !isTextOrAbsent(header, "typ"))
            return malformed("a token whose header cannot be read");
        return Checked.passed(
                new Parts(
                        header(header, algorithm),
                        read.get().signingInput(),
                        read.get().signature(),
                        read.get().payload()),
                FORM);
    }

    private static boolean isTextOrAbsent(Map<String, Object> header, String name) {
        return !header.containsKey(name) || header.get(name) instanceof String;
    }

    /** Of the header what is looked at, and nothing else: jku, jwk, x5u and x5c lead nowhere. */
    private static JWSHeader header(Map<String, Object> header, String algorithm) {
        JWSHeader.Builder looked =
                new JWSHeader.Builder(JWSAlgorithm.parse(algorithm)).keyID((String) header.get("kid"));
        if (header.get("typ") instanceof String type) looked.type(new JOSEObjectType(type));
        return looked.build();
    }

    private static final CheckResult FORM = CheckResult.passed("form", "a signed JWT", "a signed JWT");

    private static Checked<Parts> malformed(String received) {
        return Checked.refused("form", Reason.MALFORMED_TOKEN, "a signed JWT in compact form", received, FETCH_ANOTHER);
    }

    /**
     * RFC 9068 §4, RFC 8725 §3.8: the issuer first, as an exact string; then its keys. jku, jwk, x5u, x5c are never
     * looked at.
     */
    private static Checked<TokenSource> chooseSource(Parts parts, List<TokenSource> sources) {
        for (TokenSource source : sources) {
            if (source.url().equals(parts.claims().get("iss")))
                return Checked.passed(source, CheckResult.passed("issuer", source.url(), source.url()));
        }
        String wanted =
                String.join(" or ", sources.stream().map(TokenSource::url).toList());
        return Checked.refused(
                "issuer",
                Reason.WRONG_ISSUER,
                wanted,
                "a token that names another issuer",
                Fix.of("Fetch the token from %s.".formatted(wanted)));
    }

    private static Checked<VerifyingKey> chooseKey(Parts parts, TokenSource source, Instant at) {
        String kid = parts.header().getKeyID();
        Optional<? extends VerifyingKey> key = source.keyNamed(kid, at);
        if (key.isEmpty()) {
            CheckResult.Refused unknown = CheckResult.refused(
                    "key",
                    Reason.UNKNOWN_KEY,
                    "the id of a key of this issuer",
                    kid == null ? "no key id" : "the id of no such key",
                    FETCH_ANOTHER);
            return source.lookForKeys(at)
                    .<Checked<VerifyingKey>>map(look -> new Checked.Waits<>(look, unknown))
                    .orElseGet(() -> Checked.refused(unknown));
        }
        return key.get().isFor(parts.header().getAlgorithm())
                ? Checked.passed(key.get())
                : Checked.refused(
                        "algorithm",
                        Reason.WRONG_ALGORITHM,
                        key.get().algorithms(),
                        "another algorithm than the key is for",
                        FETCH_ANOTHER);
    }

    private static CheckResult signature(Parts parts, VerifyingKey key) {
        String expected = "a signature by a key of the issuer";
        boolean good;
        try {
            good = key.verifier().verify(parts.header(), parts.signingInput(), parts.signature());
        } catch (JOSEException unfit) {
            good = false;
        }
        return good
                ? CheckResult.passed("signature", expected, key.kid())
                : CheckResult.refused(
                        "signature", Reason.BAD_SIGNATURE, expected, "one that does not fit the token", FETCH_ANOTHER);
    }

    private static Checked<VerifiedToken> readClaims(Parts parts, TokenSource source, VerifyingKey key) {
        // RFC 9068 §4: typ is at+jwt or application/at+jwt, so that an ID token never passes for an access token.
        String type = parts.header().getType() == null
                ? "none"
                : parts.header().getType().getType().toLowerCase(Locale.ROOT);
        String wanted = String.join(" or ", source.types());
        if (!source.types().contains(type.startsWith("application/") ? type.substring("application/".length()) : type))
            return Checked.refused(
                    "type",
                    Reason.WRONG_TYPE,
                    wanted,
                    type,
                    Fix.of("Send the access token, not another token of the same answer."));
        try {
            return Checked.passed(
                    source.read(parts.claims(), key, print(parts.signingInput())),
                    CheckResult.passed("type", wanted, type));
        } catch (TokenSource.UnusableClaim missing) {
            // RFC 9068 §2.2: these claims are always there in what this issuer mints.
            return Checked.refused(
                    "claims",
                    Reason.MALFORMED_TOKEN,
                    "the claims that tokens of this issuer have",
                    "no usable " + missing.getMessage(),
                    FETCH_ANOTHER);
        }
    }

    private static long print(byte[] signed) {
        try {
            return ByteBuffer.wrap(MessageDigest.getInstance("SHA-256").digest(signed))
                    .getLong();
        } catch (NoSuchAlgorithmException everyJavaHasIt) {
            throw new IllegalStateException(everyJavaHasIt);
        }
    }
}
