package dev.admit.core.token;

import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import java.time.Duration;
import java.time.Instant;

/**
 * Refuses a token outside its lifetime.
 *
 * @param skew by how much the minting clock may differ from ours
 */
public record LifetimeCheck(Duration skew) implements TokenCheck {
    private static final Fix FETCH_ANOTHER = Fix.of("Fetch a new token; the one that came is over.");
    private static final Fix LOOK_AT_CLOCKS = Fix.of("Compare the clocks of the two machines, or wait for that time.");
    private static final CheckResult PASSED =
            CheckResult.passed("lifetime", "exp ahead, nbf and iat behind", "a token in its lifetime");

    @Override
    public CheckResult on(VerifiedToken token, Instant now) {
        long second = now.getEpochSecond();
        // RFC 7519 §4.1.4: on or after exp it must not be accepted, some leeway for clocks aside.
        if (second >= token.expiresAt() + skew.toSeconds()) {
            return CheckResult.refused(
                    "lifetime",
                    Reason.EXPIRED,
                    "a token that holds at " + now.truncatedTo(java.time.temporal.ChronoUnit.SECONDS),
                    "one that expired at " + Instant.ofEpochSecond(token.expiresAt()),
                    FETCH_ANOTHER);
        }
        // Withdrawals are remembered for so long, and no longer; our own tokens never live longer anyway.
        if (token.isFromElsewhere() && second >= token.issuedAt() + Lifetime.LONGEST.toSeconds()) {
            return CheckResult.refused(
                    "lifetime",
                    Reason.TOO_OLD,
                    "a token issued at most %d h ago".formatted(Lifetime.LONGEST.toHours()),
                    "one issued at " + Instant.ofEpochSecond(token.issuedAt()),
                    FETCH_ANOTHER);
        }
        // RFC 7519 §4.1.5 for nbf; RFC 8725 §3.8 in spirit for iat: a token from the future is a clock gone wrong or a
        // forgery.
        long begins = Math.max(token.notBefore(), token.issuedAt());
        if (begins > second + skew.toSeconds()) {
            return CheckResult.refused(
                    "lifetime",
                    Reason.NOT_YET_VALID,
                    "a token that holds at " + now.truncatedTo(java.time.temporal.ChronoUnit.SECONDS),
                    "one that begins at " + Instant.ofEpochSecond(begins),
                    LOOK_AT_CLOCKS);
        }
        return PASSED;
    }
}
