package dev.admit.core.token;

import dev.admit.core.decision.Action;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import java.time.Instant;
import java.util.Set;

/**
 * A route for named clients only.
 *
 * @param route its label, for the fix
 */
public record NamedClientCheck(Set<String> clientIds, String route) implements TokenCheck {
    private Fix fix(VerifiedToken token) {
        if (token.isFromElsewhere())
            return Fix.of("Have it said which client here theirs is, and that client named on the route.")
                    .by("an operator");
        String path = route.substring(route.indexOf(' ') + 1);
        return Fix.of(
                        "Have the client named on the route too.",
                        Action.onRoute("change", route)
                                .with("add-client", token.clientId())
                                .with("confirm", path))
                .by("an operator");
    }

    @Override
    public CheckResult on(VerifiedToken token, Instant now) {
        String expected = clientIds.size() == 1
                ? "the one client that the route names"
                : "one of the %d clients that the route names".formatted(clientIds.size());
        if (clientIds.contains(token.clientId())) return CheckResult.passed("client", expected, token.clientId());
        return CheckResult.refused("client", Reason.CLIENT_NOT_NAMED, expected, token.clientId(), fix(token));
    }
}
