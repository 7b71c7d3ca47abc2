package dev.admit.core.clientauth;

import com.nimbusds.jose.JOSEException;
import com.nimbusds.jose.jwk.JWK;
import com.nimbusds.jose.jwk.JWKSet;
import com.nimbusds.jwt.JWTClaimsSet;
import com.nimbusds.jwt.SignedJWT;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import dev.admit.core.decision.Refusal;
import dev.admit.core.key.SigningAlgorithm;
import dev.admit.core.key.VerifyWithKey;
import dev.admit.core.registry.Client;
import dev.admit.core.token.Lifetime;
import java.text.ParseException;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * Checks a client's assertion (RFC 7523 §3) in the standard's order, with the signature ahead of what it vouches for.
 */
final class CheckAssertion {
    /** The farthest that {@code exp} may lie ahead: an assertion is made for one request. */
    private static final Duration LONGEST = Duration.ofHours(1);

    private static final int LONGEST_JTI = 200;
    private static final String EXPECTED = "an assertion signed with a key of the client";

    private final UsedAssertions used;

    CheckAssertion(UsedAssertions used) {
        this.used = used;
    }

    /**
     * @param ours the identifiers this issuer goes by.
     * @return what refuses it; empty when it is good, and used up with that
     */
    Optional<Refusal> on(SignedJWT assertion, Client client, Optional<JWKSet> keys, List<String> ours, Instant now) {
        if (keys.isEmpty() || !signatureHolds(assertion, client, keys.get())) {
            return refusal(
                    Reason.CLIENT_NOT_AUTHENTICATED,
                    EXPECTED,
                    "credentials that fit none",
                    "Check client id, key id and key; the algorithm is the one that the registered key is for.");
        }
        JWTClaimsSet claims;
        try {
            claims = assertion.getJWTClaimsSet();
        } catch (ParseException unreadable) {
            return refusal(Reason.ASSERTION_UNUSABLE, "claims as JSON", "others", "Make the assertion anew.");
        }
        if (!client.id().equals(claims.getIssuer())) {
            return refusal(
                    Reason.ASSERTION_UNUSABLE,
                    "iss and sub both " + client.id(),
                    "another iss",
                    "Put the client id into both.");
        }
        if (claims.getAudience().stream().noneMatch(ours::contains)) {
            return refusal(
                    Reason.ASSERTION_UNUSABLE,
                    "aud " + String.join(" or ", ours),
                    "another aud",
                    "Make the assertion for this issuer.");
        }
        if (claims.getExpirationTime() == null
                || claims.getExpirationTime().toInstant().isAfter(now.plus(LONGEST))) {
            return refusal(
                    Reason.ASSERTION_UNUSABLE,
                    "exp within an hour",
                    claims.getExpirationTime() == null ? "none" : "one farther ahead",
                    "Make assertions for a minute or so.");
        }
        Instant end = claims.getExpirationTime().toInstant().plus(Lifetime.SKEW);
        if (!now.isBefore(end))
            return refusal(
                    Reason.ASSERTION_UNUSABLE,
                    "exp ahead",
                    "one that is over",
                    "Make a new assertion for each request, and compare clocks.");
        boolean early = claims.getNotBeforeTime() != null
                        && claims.getNotBeforeTime().toInstant().isAfter(now.plus(Lifetime.SKEW))
                || claims.getIssueTime() != null
                        && claims.getIssueTime().toInstant().isAfter(now.plus(Lifetime.SKEW));
        if (early)
            return refusal(
                    Reason.ASSERTION_UNUSABLE,
                    "nbf and iat behind",
                    "one ahead",
                    "Compare the clocks of the two machines.");
        if (claims.getJWTID() == null
                || claims.getJWTID().isEmpty()
                || claims.getJWTID().length() > LONGEST_JTI) {
            return refusal(
                    Reason.ASSERTION_UNUSABLE,
                    "jti of 1 to " + LONGEST_JTI + " characters",
                    claims.getJWTID() == null ? "none" : "another",
                    "Give each assertion an id of its own.");
        }
        // RFC 7523 §3 (7): what was used once is refused. Two requests may race, so the store decides, not an earlier
        // read.
        if (!used.claim(client.id(), claims.getJWTID(), end)) {
            return refusal(
                    Reason.ASSERTION_USED_TWICE,
                    "an assertion that was not used before",
                    "one that was",
                    "Make a new assertion for each request.");
        }
        return Optional.empty();
    }

    private static boolean signatureHolds(SignedJWT assertion, Client client, JWKSet keys) {
        // RFC 7515 §4.1.11: what is critical and not understood refuses.
        Set<String> critical = assertion.getHeader().getCriticalParams();
        if (critical != null && !critical.isEmpty()) return false;
        String kid = assertion.getHeader().getKeyID();
        for (JWK key : keys.getKeys()) {
            if (kid != null && !kid.equals(key.getKeyID())) continue;
            // RFC 8725 §3.1: the algorithm comes from the registration; the header can only agree with it.
            Optional<SigningAlgorithm> algorithm = SigningAlgorithm.of(key).stream()
                    .filter(it -> it.jws().equals(assertion.getHeader().getAlgorithm())
                            && client.proof()
                                    .algorithm()
                                    .filter(only -> only != it)
                                    .isEmpty())
                    .findFirst();
            try {
                if (algorithm.isPresent()
                        && VerifyWithKey.of(key)
                                .verify(assertion.getHeader(), assertion.getSigningInput(), assertion.getSignature()))
                    return true;
            } catch (JOSEException | RuntimeException unfit) {
                // a key that cannot be used verifies nothing
            }
        }
        return false;
    }

    private static Optional<Refusal> refusal(Reason reason, String expected, String received, String fix) {
        return Optional.of(new Refusal(reason, expected, received, Fix.of(fix)));
    }
}
