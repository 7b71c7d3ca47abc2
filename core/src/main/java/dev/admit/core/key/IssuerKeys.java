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
    private record Living(SigningKey key, KeySpan span) {}

    /** The one that signs last first. */
    private final List<Living> living = new ArrayList<>();
    private final Map<String, Living> byId = new LinkedHashMap<>();

    private IssuerKeys() {}

    /** @param open makes a kept key ready, @param longest no token lives longer */
    public static IssuerKeys of(List<SigningKeys.Kept> kept, Function<SigningKeys.Kept, SigningKey> open, Duration longest) {
        IssuerKeys keys = new IssuerKeys();
        for (KeySpan span : KeySpan.of(kept, longest)) {
            if (span.removedAt().isPresent()) continue; // not even opened: nothing it signed may pass
            SigningKeys.Kept its = kept.stream().filter(key -> key.kid().equals(span.kid())).findFirst().orElseThrow();
            Living one = new Living(open.apply(its), span);
            keys.living.add(one);
            keys.byId.put(span.kid(), one);
        }
        return keys;
    }

    /** The key that signs access tokens. @throws SigningFault when the issuer has none */
    public SigningKey activeAt(Instant now) {
        return activeAt(SigningKeys.Purpose.ACCESS, now);
    }

    /** The key that signs ID tokens. @throws SigningFault when the issuer has none */
    public SigningKey identityAt(Instant now) {
        return activeAt(SigningKeys.Purpose.IDENTITY, now);
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

    /** A key whose signatures are good now. */
    public Optional<SigningKey> withId(String kid, Instant now) {
        Living one = byId.get(kid);
        return one == null || !now.isBefore(one.span().verifiesUntil()) ? Optional.empty() : Optional.of(one.key());
    }

    /** Whether this very key's signatures are good now; for every request with a remembered token, so it makes nothing. */
    public boolean isGood(VerifyingKey key, Instant now) {
        Living one = byId.get(key.kid());
        return one != null && one.key() == key && now.isBefore(one.span().verifiesUntil());
    }

    /** Of the keys whose access tokens are good now. */
    public List<String> algorithmsAt(Instant now) {
        return living.stream().filter(one -> one.span().purpose() == SigningKeys.Purpose.ACCESS && now.isBefore(one.span().verifiesUntil())).map(one -> one.key().algorithm().getName()).distinct().sorted().toList();
    }

    /** The JWK Set (RFC 7517 §5): the public halves of upcoming, active and retiring keys. */
    public JWKSet publishedAt(Instant now) {
        return new JWKSet(living.stream().filter(one -> now.isBefore(one.span().verifiesUntil())).map(one -> one.key().published()).toList());
    }
}
