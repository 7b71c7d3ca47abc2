package dev.admit.core.token;

import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import java.util.Map;

/** Refuses a trial token: it is for trying routes, and must not lead to more than the operator has who had it made. */
public final class NoTrialCheck implements TokenCheck {
    @Override
    public CheckResult on(VerifiedToken token, java.time.Instant now) {
        boolean trial = !token.isFromElsewhere()
                && token.extra().get("act") instanceof Map<?, ?> act
                && act.containsKey("trial");
        if (!trial) return CheckResult.passed("trial", "a token that the caller fetched by themselves", "one");
        return CheckResult.refused(
                "trial",
                Reason.TRIAL_TOKEN,
                "a token that the caller fetched by themselves",
                "a trial token",
                Fix.of("Sign in, or use a client's own credential."));
    }
}
