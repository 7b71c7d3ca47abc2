package dev.admit.core.token;

import dev.admit.core.key.VerifyingKey;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CompletionStage;

/** Whose tokens are meant: by which keys they hold, and how their claims are read. */
public interface TokenSource {
    /** Under which a verified token says that it is of this source. */
    String id();

    /** The issuer identifier as tokens carry it. */
    String url();

    /**
     * A key whose signatures are good now.
     *
     * @param kid null when the token names none
     */
    Optional<? extends VerifyingKey> keyNamed(String kid, Instant now);

    /** Whether this very key's signatures are good now; asked on every request with a remembered token. */
    boolean isGood(VerifyingKey key, Instant now);

    /** The values of {@code typ} that its access tokens have, in lower case; {@code none} for tokens without. */
    List<String> types();

    /**
     * @param print of the token, by which it is told from every other.
     * @throws UnusableClaim when one is missing
     */
    VerifiedToken read(Map<String, Object> claims, VerifyingKey key, long print) throws UnusableClaim;

    /**
     * A look for new keys that is worth waiting for, because none of the known is the token's; empty where there is
     * nothing to look at, or a person just did.
     */
    default Optional<CompletionStage<?>> lookForKeys(Instant now) {
        return Optional.empty();
    }

    /** A claim that every token of a source has is not there, or makes no sense. */
    final class UnusableClaim extends Exception {
        public UnusableClaim(String claim) {
            super(claim, null, false, false);
        }
    }
}
