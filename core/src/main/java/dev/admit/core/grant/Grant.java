package dev.admit.core.grant;

import dev.admit.core.authorization.AuthorizationGrant;
import dev.admit.core.decision.Recorder;

/** One way of getting a token (RFC 6749 §1.3). Each is a class; {@link IssueToken} has the list. */
interface Grant {

    /** The value of {@code grant_type}. */
    String type();

    /** What redeeming came to. */
    sealed interface Result {
        record Issued(GrantOutcome.Issued issued) implements Result {}

        /** A check refused; the decision says which. */
        record Refused() implements Result {}

        /**
         * A check refused, and what was given before on the same authorization ends with it (RFC 6749 §4.1.2, RFC 9700
         * §4.14.2).
         */
        record Misused(AuthorizationGrant grant) implements Result {}
    }

    Result redeem(Redemption asked, Recorder decision);
}
