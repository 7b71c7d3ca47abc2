package dev.admit.core.token;

import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import java.time.Duration;
import java.time.Instant;
import java.util.Optional;

/** RFC 9470: how long ago and how strongly the person must have signed in. */
public record SignInCheck(Optional<Duration> within, Optional<String> strength) implements TokenCheck {
    @Override
    public CheckResult on(VerifiedToken token, Instant now) {
        String expected =
                (within.map(it -> "a sign-in within " + it.toSeconds() + " s").orElse("a sign-in")
                        + strength.map(it -> " of the strength " + it).orElse(""));
        String acr = token.extra().get("acr") instanceof String it ? it : "";
        if (token.isClientsOwn()) {
            return CheckResult.refused(
                    "sign-in",
                    Reason.SIGN_IN_TOO_OLD,
                    expected,
                    "a client's own token, for which nobody signed in",
                    Fix.of("Have a person sign in with a client for people, and call with the token that comes of "
                            + "it. No client gets such a token on its own."));
        }
        if (!(token.extra().get("auth_time") instanceof Number signedIn)) {
            return refused(Reason.SIGN_IN_TOO_OLD, expected, "a token that does not say when a person signed in");
        }
        // RFC 9470 §3: strength first, because signing in again with it is recent as well.
        if (strength.isPresent() && !strength.get().equals(acr))
            return refused(
                    Reason.SIGN_IN_NOT_STRONG_ENOUGH,
                    expected,
                    acr.isEmpty() ? "a token that does not say how" : "the strength " + acr);
        long ago = now.getEpochSecond() - signedIn.longValue();
        if (within.isPresent() && ago > within.get().plus(Lifetime.SKEW).toSeconds())
            return refused(Reason.SIGN_IN_TOO_OLD, expected, "one %d s ago".formatted(ago));
        return CheckResult.passed(
                "sign-in", expected, "one %d s ago%s".formatted(Math.max(0, ago), acr.isEmpty() ? "" : ", " + acr));
    }

    private CheckResult refused(Reason reason, String expected, String received) {
        String with = within.map(it -> "max_age=" + it.toSeconds()).orElse("")
                + (within.isPresent() && strength.isPresent() ? " and " : "")
                + strength.map(it -> "acr_values=" + it).orElse("");
        return CheckResult.refused(
                "sign-in",
                reason,
                expected,
                received,
                Fix.of("Send the person through the authorization endpoint again, with %s.".formatted(with)));
    }

    /** What the challenge says of it (RFC 9470 §3). */
    public String challenge() {
        return strength.map(it -> ", acr_values=\"" + it + "\"").orElse("")
                + within.map(it -> ", max_age=" + it.toSeconds()).orElse("");
    }
}
