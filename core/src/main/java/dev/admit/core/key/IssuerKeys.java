package dev.admit.core.key;

import com.nimbusds.jose.jwk.JWKSet;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;

/** The keys of one issuer, each with its life; which of them signs and verifies is asked with the time. */
public final class IssuerKeys {
    /** A token id may be drawn a moment before the key is chosen, on either side of a rotation. */
    private static final Duration AROUND_ROTATION = Duration.ofSeconds(5);

    private record Living(SigningKey key, KeySpan span) {}

    /** The one that signs last first. */
    private final List<Living> living = new ArrayList<>();

    private final Map<String, Living> byId = new LinkedHashMap<>();

    private IssuerKeys() {}

    /**
     * @param open makes a kept key ready
     * @param longest no token lives longer
     */
    public static IssuerKeys of(
            List<SigningKeys.Stored> kept, Function<SigningKeys.Stored, SigningKey> open, Duration longest) {
        IssuerKeys keys = new IssuerKeys();
        for (KeySpan span : KeySpan.of(kept, longest)) {
            if (span.removedAt().isPresent()) continue; // not even opened: nothing it signed may pass
            SigningKeys.Stored its = kept.stream()
                    .filter(key -> key.kid().equals(span.kid()))
                    .findFirst()
                    .orElseThrow();
            Living one = new Living(open.apply(its), span);
            keys.living.add(one);
            keys.byId.put(span.kid(), one);
        }
        return keys;
    }

    /**
     * The key that signs access tokens.
     *
     * @throws SigningFault when the issuer has none
     */
    public SigningKey activeAt(Instant now) {
        return activeAt(SigningKeys.Purpose.ACCESS_TOKEN, now);
    }

    /**
     * The key that signs ID tokens.
     *
     * @throws SigningFault when the issuer has none
     */
    public SigningKey identityAt(Instant now) {
        return activeAt(SigningKeys.Purpose.ID_TOKEN, now);
    }

    private SigningKey activeAt(SigningKeys.Purpose purpose, Instant now) {
        Living oldest = null;
        for (Living one : living) {
            if (one.span().purpose() != purpose) continue;
            if (!now.isBefore(one.span().signsFrom())) return one.key();
            oldest = one;
        }
        // A clock that was set back before the first key: better the oldest key than none.
        if (oldest == null) throw new SigningFault("the issuer has no key that signs " + purpose + " tokens", null);
        return oldest.key();
    }

    /** A key whose signatures are good now. An upcoming key is published, but nothing that it signed is good yet. */
    public Optional<SigningKey> withId(String kid, Instant now) {
        Living one = byId.get(kid);
        return one == null || !isInForce(one, now) ? Optional.empty() : Optional.of(one.key());
    }

    private boolean isInForce(Living one, Instant now) {
        return now.isBefore(one.span().verifiesUntil())
                && (!now.isBefore(one.span().signsFrom()) || isOldest(one));
    }

    /** The oldest key signs even before its time, after a clock was set back; so it verifies then as well. */
    @SuppressWarnings("ReferenceEquality") // this very one of them
    private boolean isOldest(Living one) {
        return living.stream()
                .filter(it -> it.span().purpose() == one.span().purpose())
                .reduce((later, earlier) -> earlier)
                .filter(it -> it == one)
                .isPresent();
    }

    /**
     * Whether a key can have signed a token that was minted at a time: it was the active key then. The one who holds a
     * key before it is active, or after, mints nothing with it.
     *
     * @param minted by the order of this service, which the token's id holds
     */
    public boolean canHaveSigned(VerifyingKey key, Instant minted) {
        Living one = byId.get(key.kid());
        if (one == null) return false;
        boolean notTooEarly =
                isOldest(one) || !minted.isBefore(one.span().signsFrom().minus(AROUND_ROTATION));
        return notTooEarly
                && (one.span().signsUntil().equals(Instant.MAX)
                        || minted.isBefore(one.span().signsUntil().plus(AROUND_ROTATION)));
    }

    /**
     * Whether this very key's signatures are good now; for every request with a remembered token, so it makes nothing.
     */
    public boolean isGood(VerifyingKey key, Instant now) {
        Living one = byId.get(key.kid());
        return one != null && one.key() == key && isInForce(one, now);
    }

    /** Of the keys whose access tokens are good now. */
    public List<String> algorithmsAt(Instant now) {
        return living.stream()
                .filter(one -> one.span().purpose() == SigningKeys.Purpose.ACCESS_TOKEN
                        && now.isBefore(one.span().verifiesUntil()))
                .map(one -> one.key().algorithm().getName())
                .distinct()
                .sorted()
                .toList();
    }

    /** The JWK Set (RFC 7517 §5): the public halves of upcoming, active and retiring keys. */
    public JWKSet publishedAt(Instant now) {
        return new JWKSet(living.stream()
                .filter(one -> now.isBefore(one.span().verifiesUntil()))
                .map(one -> one.key().published())
                .toList());
    }
}
