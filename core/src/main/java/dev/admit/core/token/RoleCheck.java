package dev.admit.core.token;

import dev.admit.core.decision.Action;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import java.time.Instant;
import java.util.List;

/**
 * RFC 9068 §2.2.3.1: the roles of the person, as the token has them.
 *
 * @param roles one of them
 * @param api whose minting says that tokens carry roles
 */
public record RoleCheck(List<String> roles, String api) implements TokenCheck {
    @Override
    public CheckResult on(VerifiedToken token, Instant now) {
        String expected = "the role " + String.join(" or ", roles);
        if (!(token.extra().get("roles") instanceof List<?> theirs)) {
            return CheckResult.refused(
                    "role",
                    Reason.ROLE_MISSING,
                    expected,
                    "a token without roles",
                    Fix.of(
                                    "Have the tokens of the API carry roles.",
                                    Action.of("api", "minting", api).with("add-claim", "roles=person.roles"))
                            .by("who answers for the API, or an operator"));
        }
        String received = theirs.isEmpty()
                ? "no role"
                : "the role "
                        + String.join(
                                " and ", theirs.stream().map(String::valueOf).toList());
        if (roles.stream().anyMatch(theirs::contains)) return CheckResult.passed("role", expected, received);
        if (token.isFromElsewhere())
            return CheckResult.refused(
                    "role",
                    Reason.ROLE_MISSING,
                    expected,
                    received,
                    Fix.of("Have the person given the role at %s, and request another token.".formatted(token.issuer()))
                            .by("the one who runs that issuer"));
        return CheckResult.refused(
                "role",
                Reason.ROLE_MISSING,
                expected,
                received,
                Fix.of(
                                "Have the person given the role, and request another token.",
                                Action.of("person", "change", token.subject()).with("add-role", roles.getFirst()))
                        .by("an administrator"));
    }
}
