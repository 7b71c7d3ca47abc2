package dev.admit.core.token;

import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import java.time.Instant;

/** A route for tokens on a person's behalf only, or for clients on their own only. */
public record BearerKindCheck(boolean people) implements TokenCheck {
    private static final String PERSON = "a token on a person's behalf";
    private static final String CLIENT = "a token of a client on its own";

    @Override
    public CheckResult on(VerifiedToken token, Instant now) {
        String received = token.isClientsOwn() ? CLIENT : PERSON;
        if (token.isClientsOwn() != people) return CheckResult.passed("bearer-kind", received, received);
        return people
                ? CheckResult.refused(
                        "bearer-kind",
                        Reason.PERSON_WANTED,
                        PERSON,
                        received,
                        Fix.of("Have a person sign in, and call with the token that comes of it: the authorization "
                                + "code or device grant."))
                : CheckResult.refused(
                        "bearer-kind",
                        Reason.CLIENT_WANTED,
                        CLIENT,
                        received,
                        Fix.of("Call with a token of the client itself: grant_type=client_credentials."));
    }
}
