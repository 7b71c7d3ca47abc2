package dev.admit.core.authorize;

import dev.admit.core.change.Known;
import dev.admit.core.key.MasterKey;
import dev.admit.core.key.SealedJson;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Map;
import java.util.Optional;

/**
 * Sign-ins that an operator begins to try a client with a person. The answer goes to the console, which no client has
 * registered; so {@code state} is sealed by this service, and an address counts for that one request of that one client
 * alone. Nobody outside can seal one, and what comes back is of use only with the verifier that is sealed in it and to
 * the operator who began it.
 */
public final class TrialSignIns {
    private static final Duration PATIENCE = Duration.ofMinutes(15);
    private final SealedJson sealed;
    private final String redirectUri;
    private final Clock clock;

    /** @param redirectUri where the console takes answers */
    public TrialSignIns(MasterKey masterKey, String redirectUri, Clock clock) {
        this.sealed = new SealedJson(masterKey, "trial sign-in", ReadRequest.LONGEST_PASSED_BACK);
        this.redirectUri = redirectUri;
        this.clock = clock;
    }

    /**
     * A trial that is under way.
     *
     * @param operatorId who began it
     * @param verifier of PKCE
     * @param back what the console was about, for the way back
     */
    public record UnderWay(String issuer, String clientId, String operatorId, String verifier, String back) {
        @Override
        public String toString() {
            return "UnderWay[" + clientId + "]";
        }
    }

    public String redirectUri() {
        return redirectUri;
    }

    /** @return what goes as {@code state} */
    public String seal(UnderWay it) {
        return sealed.seal(Map.of(
                "i",
                it.issuer(),
                "c",
                it.clientId(),
                "o",
                it.operatorId(),
                "v",
                it.verifier(),
                "b",
                it.back(),
                "e",
                clock.instant().plus(PATIENCE).getEpochSecond()));
    }

    /** Empty for whatever this service did not seal, and for what is too old. */
    public Optional<UnderWay> open(String state) {
        return sealed.open(state)
                .filter(it -> clock.instant().isBefore(Instant.ofEpochSecond(Known.number(it, "e"))))
                .map(it -> new UnderWay(
                        Known.text(it, "i"),
                        Known.text(it, "c"),
                        Known.text(it, "o"),
                        Known.text(it, "v"),
                        Known.text(it, "b")));
    }

    /** Whether an address may have the answer to this very request though the client did not register it. */
    boolean accepts(String clientId, String redirect, String state) {
        return redirect.equals(redirectUri)
                && open(state).filter(it -> it.clientId().equals(clientId)).isPresent();
    }
}
