package dev.admit.core.token;

import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import java.time.Instant;

/**
 * Refuses a token that was minted for another API.
 *
 * @param ours the audience of the API behind the route
 */
public record AudienceCheck(String ours, String expected) implements TokenCheck {

    public static AudienceCheck of(String ours) {
        return new AudienceCheck(ours, "the audience " + ours);
    }

    @Override
    public CheckResult on(VerifiedToken token, Instant now) {
        // RFC 9068 §4: aud must name an identifier this resource expects for itself.
        if (token.audiences().contains(ours)) return CheckResult.passed("audience", expected, token.audienceText());
        return CheckResult.refused(
                "audience",
                Reason.WRONG_AUDIENCE,
                expected,
                "the audience " + token.audienceText(),
                token.isFromElsewhere()
                        ? Fix.of("Have %s give tokens for %s; or have it said which audience its tokens have."
                                        .formatted(token.issuer(), ours))
                                .by("an operator")
                        : ours.contains(":")
                                ? Fix.of("Request a token with resource=%s.".formatted(ours))
                                : Fix.of("Request a token with a scope of that API."));
    }
}
