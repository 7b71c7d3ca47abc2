package dev.admit.core.token;

import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import java.time.Instant;
import java.util.Optional;

/** Refuses a token that was revoked, or that leans on an approval withdrawn since. */
public record RevocationCheck(Revocations revocations) implements TokenCheck {
    private static final CheckResult PASSED = CheckResult.passed("revocation", "not revoked", "not revoked");

    @Override
    public CheckResult on(VerifiedToken token, Instant now) {
        Optional<String> ending = revocations.ending(token);
        if (ending.isEmpty()) return PASSED;
        return CheckResult.refused(
                "revocation",
                Reason.REVOKED,
                "a token that was not revoked",
                "one of which " + ending.get(),
                Fix.of("Fetch a new token; if that is refused too, its answer says what must be approved."));
    }
}
