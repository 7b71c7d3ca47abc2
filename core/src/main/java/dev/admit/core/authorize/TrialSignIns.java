package dev.admit.core.authorize;

import com.nimbusds.jose.util.JSONObjectUtils;
import dev.admit.core.key.MasterKey;
import dev.admit.core.key.SigningFault;
import java.nio.charset.StandardCharsets;
import java.text.ParseException;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Base64;
import java.util.Map;
import java.util.Optional;

/**
 * Sign-ins that an operator begins to try a client with a person. The answer goes to the console, which no client has registered; so
 * {@code state} is sealed by this service, and an address counts for that one request of that one client alone. Nobody outside can
 * seal one, and what comes back is of use only with the verifier that is sealed in it and to the operator who began it.
 */
public final class TrialSignIns {
    private static final String NAME = "trial sign-in";
    private static final Duration PATIENCE = Duration.ofMinutes(15);
    private final MasterKey masterKey;
    private final String redirectUri;
    private final Clock clock;

    /** @param redirectUri where the console takes answers */
    public TrialSignIns(MasterKey masterKey, String redirectUri, Clock clock) {
        this.masterKey = masterKey;
        this.redirectUri = redirectUri;
        this.clock = clock;
    }

    /** A trial that is under way. @param operatorId who began it, @param verifier of PKCE, @param back what the console was about, for the way back */
    public record UnderWay(String issuer, String clientId, String operatorId, String verifier, String back) {
        @Override public String toString() {
            return "UnderWay[" + clientId + "]";
        }
    }

    public String redirectUri() {
        return redirectUri;
    }

    /** @return what goes as {@code state} */
    public String seal(UnderWay it) {
        Map<String, Object> json = Map.of("i", it.issuer(), "c", it.clientId(), "o", it.operatorId(), "v", it.verifier(), "b", it.back(), "e", clock.instant().plus(PATIENCE).getEpochSecond());
        return Base64.getUrlEncoder().withoutPadding().encodeToString(masterKey.seal(JSONObjectUtils.toJSONString(json).getBytes(StandardCharsets.UTF_8), NAME));
    }

    /** Empty for whatever this service did not seal, and for what is too old. */
    public Optional<UnderWay> open(String state) {
        if (state.length() > ReadRequest.LONGEST_PASSED_BACK) return Optional.empty();
        try {
            byte[] sealed = Base64.getUrlDecoder().decode(state);
            if (sealed.length < 32) return Optional.empty();
            Map<String, Object> json = JSONObjectUtils.parse(new String(masterKey.open(sealed, NAME), StandardCharsets.UTF_8));
            if (!clock.instant().isBefore(Instant.ofEpochSecond(((Number) json.get("e")).longValue()))) return Optional.empty();
            return Optional.of(new UnderWay((String) json.get("i"), (String) json.get("c"), (String) json.get("o"), (String) json.get("v"), (String) json.get("b")));
        } catch (IllegalArgumentException | SigningFault | ParseException notOurs) {
            return Optional.empty();
        }
    }

    /** Whether an address may have the answer to this very request though the client did not register it. */
    boolean accepts(String clientId, String redirect, String state) {
        return redirect.equals(redirectUri) && open(state).filter(it -> it.clientId().equals(clientId)).isPresent();
    }
}
