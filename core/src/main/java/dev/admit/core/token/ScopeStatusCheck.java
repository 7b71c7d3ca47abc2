package dev.admit.core.token;

import dev.admit.core.decision.Action;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import java.time.Instant;
import java.util.Map;

/**
 * Refuses a token that leans on a scope which is no longer given.
 *
 * @param ends scopes of the issuer with a date, or none given at all
 */
public record ScopeStatusCheck(Map<String, End> ends) implements TokenCheck {
    /**
     * @param at when the scope closes; the least there is for a draft.
     * @param api the name of its API
     */
    public record End(Instant at, String api) {}

    private static final CheckResult PASSED =
            CheckResult.passed("scope-status", "scopes that are still granted", "such scopes");

    @Override
    public CheckResult on(VerifiedToken token, Instant now) {
        for (String scope : token.scopes()) {
            End its = ends.get(scope);
            if (its == null || now.isBefore(its.at())) continue;
            Instant end = its.at();
            return CheckResult.refused(
                    "scope-status",
                    Reason.SCOPE_CLOSED,
                    "scopes that are still granted",
                    scope + (end.equals(Instant.MIN) ? ", which is a draft" : ", which closed at " + end),
                    Fix.of(
                                    "Fetch a token without it, or have it put in use.",
                                    Action.of("scope", "change", its.api(), scope)
                                            .with("status", "in-use"))
                            .by("an operator"));
        }
        return PASSED;
    }
}
