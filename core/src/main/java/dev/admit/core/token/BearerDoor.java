package dev.admit.core.token;

import dev.admit.core.decision.Recorder;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * Lets a bearer token in, or not: found in the request, its signature good, then each check in order. The gateway's
 * routes and the admin API stand behind the same door.
 */
public final class BearerDoor {
    private static final String TRIAL = "act"; // RFC 8693 §4.1
    private final RememberedTokens tokens;

    public BearerDoor(RememberedTokens tokens) {
        this.tokens = tokens;
    }

    /**
     * One way in.
     *
     * @param source whose tokens
     * @param checks what must hold of them, in order
     */
    public record Way(TokenSource source, List<TokenCheck> checks) {}

    /**
     * All ways in at one place.
     *
     * @param sources theirs, in the same order
     */
    public record Ways(List<Way> all, List<TokenSource> sources) {
        public static final Ways NONE = new Ways(List.of(), List.of());

        public static Ways of(List<Way> all) {
            return new Ways(List.copyOf(all), all.stream().map(Way::source).toList());
        }

        public static Ways of(TokenSource source, List<TokenCheck> checks) {
            return of(List.of(new Way(source, checks)));
        }
    }

    /**
     * @param authorization every Authorization header
     * @param query the raw query, or null
     * @param ways of which one is the token's
     * @return the token, or empty when a check refused; the decision says which
     */
    public Optional<VerifiedToken> pass(
            List<String> authorization, @Nullable String query, Ways ways, Recorder decision) {
        String bearer = decision.take(BearerCredentials.read(authorization, query));
        if (bearer == null) return Optional.empty();
        Optional<VerifiedToken> verified = tokens.verify(bearer, ways.sources(), decision);
        if (verified.isEmpty()) return verified;
        VerifiedToken token = verified.get();
        decision.client(token.clientId(), "").subject(token.subject()).scopes(token.scopeText());
        if (!token.isFromElsewhere() && token.extra().get(TRIAL) instanceof Map<?, ?> act && act.containsKey("trial"))
            decision.done("came with a trial token that " + act.get("name") + " had made");
        for (TokenCheck check : checksFor(token, ways)) {
            if (!decision.passes(check.on(token, decision.at()))) return Optional.empty();
        }
        return verified;
    }

    private static List<TokenCheck> checksFor(VerifiedToken token, Ways ways) {
        for (Way way : ways.all()) if (way.source().id().equals(token.source())) return way.checks();
        throw new IllegalStateException("a token came in by no way that there is");
    }
}
