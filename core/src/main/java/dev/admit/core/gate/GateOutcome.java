package dev.admit.core.gate;

import dev.admit.core.configuration.GuardedRoute;
import dev.admit.core.decision.Refusal;
import dev.admit.core.limit.Count;
import dev.admit.core.token.VerifiedToken;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.CompletionStage;

/** How the gateway decided on a request. */
public sealed interface GateOutcome {

    /**
     * @param path normalised, and as the route rewrites it: this is what is forwarded
     * @param token empty on an open route
     * @param values what the route's texts are filled in from; empty where they say the same for every request
     * @param session the new value of the browser's session cookie, where it was renewed
     * @param count of the rate that is nearest to its end; empty where nothing is counted
     * @param over to be run once the answer is out, whatever came of it: it gives back the room that this request
     *     takes, once however often it is run
     */
    record Admitted(
            GuardedRoute route,
            String path,
            Optional<VerifiedToken> token,
            Map<String, Object> values,
            Optional<Count> count,
            Optional<String> session,
            Runnable over)
            implements GateOutcome {
        /** Where there is no room to give back. */
        public static final Runnable NOTHING = () -> {};
    }

    /** Something elsewhere must be known first: once it is, or cannot be, the request is decided on anew. */
    record Waits(CompletionStage<?> stage) implements GateOutcome {}

    /**
     * The person at the browser is to sign in first.
     *
     * @param refused what anybody else is told
     */
    record SignIn(GuardedRoute route, Refused refused) implements GateOutcome {}

    /**
     * A page may make the call that its browser asked about.
     *
     * @param method that it asked about
     */
    record PageMay(GuardedRoute route, String method) implements GateOutcome {}

    /**
     * @param route empty when none matched
     * @param allowed the methods the path exists with; empty unless the reason is method-not-allowed
     * @param count of the rate that has no room left; empty unless the reason is rate-exceeded or quota-exceeded
     */
    record Refused(Refusal refusal, Optional<GuardedRoute> route, Set<String> allowed, Optional<Count> count)
            implements GateOutcome {
        public Refused(Refusal refusal, Optional<GuardedRoute> route, Set<String> allowed) {
            this(refusal, route, allowed, Optional.empty());
        }

        /** The same, which tells of a limit as well. */
        Refused telling(Optional<Count> limit) {
            return new Refused(refusal, route, allowed, limit);
        }
    }
}
