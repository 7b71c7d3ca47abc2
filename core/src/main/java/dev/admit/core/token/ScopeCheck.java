package dev.admit.core.token;

import dev.admit.core.decision.Action;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import java.time.Instant;
import java.util.List;

/**
 * Refuses a token whose scope is too small for the route (RFC 6750 §3.1, insufficient_scope).
 *
 * @param any whether one of them is enough
 */
public record ScopeCheck(List<String> needed, boolean any, String expected) implements TokenCheck {

    public static ScopeCheck of(List<String> needed, boolean any) {
        return new ScopeCheck(needed, any, "the scope " + String.join(any ? " or " : " and ", needed));
    }

    @Override
    public CheckResult on(VerifiedToken token, Instant now) {
        if (any
                ? needed.stream().anyMatch(token.scopes()::contains)
                : token.scopes().containsAll(needed)) {
            return CheckResult.passed("scope", expected, token.scopeText());
        }
        return CheckResult.refused(
                "scope",
                Reason.INSUFFICIENT_SCOPE,
                expected,
                received(token),
                token.isFromElsewhere()
                        ? elsewhere(token)
                        : Fix.of(
                                ("Request a token with scope=%s; the client must have requested it and it must be "
                                                + "approved.")
                                        .formatted(any ? needed.getFirst() : String.join(" ", needed)),
                                Action.of("client", "show", token.clientId())));
    }

    private static String received(VerifiedToken token) {
        if (!token.theirScopes().isEmpty())
            return "the scope %s of theirs, %s"
                    .formatted(
                            token.theirScopes(),
                            token.scopes().isEmpty()
                                    ? "of which none counts here"
                                    : "which counts as " + token.scopeText());
        return token.scopes().isEmpty() ? "a token without scope" : "the scope " + token.scopeText();
    }

    /** Nothing is asked or approved here: their issuer gives the scope, or one that it gives counts as it. */
    private Fix elsewhere(VerifiedToken token) {
        String sentence = "Have %s give a scope that counts as %s; or have it said which of theirs does."
                .formatted(token.issuer(), needed.getFirst());
        // With one scope that counts as none, it is clear which is meant; what counts already stays.
        boolean one = token.scopes().isEmpty()
                && !token.theirScopes().isEmpty()
                && !token.theirScopes().contains(" ")
                && !token.theirScopes().contains("=");
        if (!one) return Fix.of(sentence).by("an administrator");
        return Fix.of(
                        sentence,
                        Action.of("trusted-issuer", "change", token.source())
                                .with("add-scope", token.theirScopes() + "=" + needed.getFirst()))
                .by("an administrator");
    }
}
