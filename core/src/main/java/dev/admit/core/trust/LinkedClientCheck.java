package dev.admit.core.trust;

import dev.admit.core.decision.Action;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import dev.admit.core.token.TokenCheck;
import dev.admit.core.token.VerifiedToken;
import java.time.Instant;
import java.util.Set;
import java.util.function.Predicate;

/**
 * A client elsewhere that is linked to one here passes only while that one is switched on: its issuer goes on minting
 * when it is not.
 *
 * @param linked the ids of those here
 * @param isOn whether one is there and switched on
 */
public record LinkedClientCheck(Set<String> linked, Predicate<String> isOn) implements TokenCheck {
    @Override
    public CheckResult on(VerifiedToken token, Instant now) {
        String expected = "a client that is switched on, where it is linked to one here";
        if (!linked.contains(token.clientId()))
            return new CheckResult.Skipped("linked-client", "the client is linked to none here");
        if (isOn.test(token.clientId())) return CheckResult.passed("linked-client", expected, token.clientId());
        return CheckResult.refused(
                "linked-client",
                Reason.LINKED_CLIENT_OFF,
                expected,
                "one that is switched off, or gone",
                Fix.of("Have the client switched on again.", Action.of("client", "on", token.clientId()))
                        .by("an operator"));
    }
}
