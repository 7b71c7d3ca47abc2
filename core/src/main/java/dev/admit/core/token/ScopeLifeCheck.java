package dev.admit.core.token;

import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Mend;
import dev.admit.core.decision.Reason;
import java.time.Instant;
import java.util.Map;

/** Refuses a token that leans on a scope which is no longer given. @param ends scopes of the issuer with a date, or none given at all */
public record ScopeLifeCheck(Map<String, Instant> ends) implements TokenCheck {
    private static final CheckResult PASSED = CheckResult.passed("scope-life", "scopes that are still given", "such scopes");

    @Override public CheckResult on(VerifiedToken token, Instant now) {
        for (String scope : token.scopes()) {
            Instant end = ends.get(scope);
            if (end == null || now.isBefore(end)) continue;
            return CheckResult.refused("scope-life", Reason.SCOPE_CLOSED, "scopes that are still given",
                    scope + (end.equals(Instant.MIN) ? ", which is a draft" : ", which closed at " + end), Mend.of("Fetch a token without it, or have it put in use.",
                            "admit scope change %s --life in-use".formatted(scope)).by("an operator"));
        }
        return PASSED;
    }
}
