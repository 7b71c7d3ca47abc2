package dev.admit.core.token;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Checked;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import dev.admit.core.decision.Recorder;
import dev.admit.core.registry.SecretHash;
import dev.admit.core.tries.Strangers;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.time.Instant;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/**
 * Remembers which tokens have had their signature checked, so that the second request with one costs a look-up.
 * Bounded; an entry counts for nothing once the key it was signed with is no longer one of the issuer's, and lifetime,
 * audience, scopes and revocation are never remembered.
 */
public final class RememberedTokens {
    private static final CheckResult REMEMBERED =
            CheckResult.passed("signature", "a signature by a key of the issuer", "checked on an earlier request");
    private static final CheckResult.Skipped FORM = new CheckResult.Skipped("form", "read on an earlier request");
    private static final ThreadLocal<MessageDigest> SHA_256 = ThreadLocal.withInitial(RememberedTokens::sha256);

    private final Cache<Fingerprint, VerifiedToken> verified;

    private final OpaqueTokens opaque;
    private final Strangers strangers;

    public RememberedTokens(int most, OpaqueTokens opaque, Strangers strangers) {
        this.opaque = opaque;
        this.strangers = strangers;
        this.verified = Caffeine.newBuilder().maximumSize(most).build();
    }

    /** How many there are. */
    public long remembered() {
        return verified.estimatedSize();
    }

    /** Verifies a token, or remembers that it was. Empty when a check refused; the decision says which. */
    public Optional<VerifiedToken> verify(String token, TokenSource source, Recorder decision) {
        return verify(token, List.of(source), decision);
    }

    /** The same, where a token may be of one source or another. */
    public Optional<VerifiedToken> verify(String token, List<TokenSource> sources, Recorder decision) {
        Fingerprint fingerprint = Fingerprint.of(token);
        VerifiedToken known = verified.getIfPresent(fingerprint);
        if (known != null && stillHolds(known, sources, decision.at())) {
            decision.add(FORM);
            decision.add(REMEMBERED);
            return Optional.of(known);
        }
        VerifiedToken fresh = OpaqueToken.isOne(token)
                ? decision.take(lookUp(token, sources, decision.from()))
                : VerifyToken.verify(token, sources, decision);
        if (fresh != null) verified.put(fingerprint, fresh);
        return Optional.ofNullable(fresh);
    }

    /** The same key object must still verify: a key that retired or was removed takes its tokens with it. */
    private static boolean stillHolds(VerifiedToken known, List<TokenSource> sources, Instant at) {
        for (TokenSource source : sources) {
            if (source.id().equals(known.source()))
                return known.key().isEmpty() || source.isGood(known.key().get(), at);
        }
        return false;
    }

    /**
     * An opaque token costs one look into the records, and is then remembered like any other.
     *
     * @param from the address that sent it
     */
    private Checked<VerifiedToken> lookUp(String token, List<TokenSource> sources, String from) {
        if (!strangers.mayLookUp(from))
            return Checked.refused(
                    "form",
                    Reason.TOO_MANY_UNKNOWN_TOKENS,
                    "an address that sends tokens of this issuer",
                    "one that sent many that nobody gave",
                    Fix.of("Wait a minute, and fetch a new token."));
        Optional<OpaqueToken> found = opaque.find(SecretHash.of(token));
        if (found.isEmpty()) strangers.missed(from);
        Optional<TokenSource> source = found.flatMap(it ->
                sources.stream().filter(one -> one.id().equals(it.issuerId())).findFirst());
        return source.isPresent()
                ? Checked.passed(VerifiedToken.of(found.get(), source.get().url()), OPAQUE)
                : Checked.refused(
                        "form",
                        Reason.UNKNOWN_TOKEN,
                        "a token that this issuer gave",
                        "one that is not in its records",
                        Fix.of("Fetch a new token; this one is over, or came from elsewhere."));
    }

    private static final CheckResult OPAQUE =
            CheckResult.passed("form", "a token that this issuer gave", "an opaque one of its records");

    /** The SHA-256 of a token: the token itself is not kept. */
    private record Fingerprint(byte[] hash) {
        static Fingerprint of(String token) {
            return new Fingerprint(SHA_256.get().digest(token.getBytes(StandardCharsets.ISO_8859_1)));
        }

        @Override
        public boolean equals(Object other) {
            return other instanceof Fingerprint(byte[] theirs)
                    && Arrays.equals(hash, theirs); // no secret: both are hashes
        }

        @Override
        public int hashCode() {
            return (hash[0] & 0xff) << 24 | (hash[1] & 0xff) << 16 | (hash[2] & 0xff) << 8 | hash[3] & 0xff;
        }
    }

    private static MessageDigest sha256() {
        try {
            return MessageDigest.getInstance("SHA-256");
        } catch (NoSuchAlgorithmException everyJavaHasIt) {
            throw new IllegalStateException(everyJavaHasIt);
        }
    }
}
