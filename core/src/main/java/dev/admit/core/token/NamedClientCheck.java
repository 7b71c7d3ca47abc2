package dev.admit.core.token;

import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Mend;
import dev.admit.core.decision.Reason;
import java.time.Instant;
import java.util.Set;

/** A route for named clients only. @param route its label, for the mend */
public record NamedClientCheck(Set<String> clientIds, String route) implements TokenCheck {
    @Override public CheckResult on(VerifiedToken token, Instant now) {
        String expected = clientIds.size() == 1 ? "the one client that the route names" : "one of the %d clients that the route names".formatted(clientIds.size());
        if (clientIds.contains(token.clientId())) return CheckResult.passed("client", expected, token.clientId());
        return CheckResult.refused("client", Reason.CLIENT_NOT_NAMED, expected, token.clientId(),
                Mend.of("Have the client named on the route.", "admit route show " + route.replaceFirst(" (.*)", " '$1'")).by("an operator"));
    }
}
