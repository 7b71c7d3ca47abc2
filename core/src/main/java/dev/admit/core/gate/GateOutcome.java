package dev.admit.core.gate;

import dev.admit.core.configuration.GuardedRoute;
import dev.admit.core.decision.Refusal;
import dev.admit.core.token.VerifiedToken;
import java.util.Optional;
import java.util.Set;

/** How the gateway decided on a request. */
public sealed interface GateOutcome {

    /**
     * @param path  normalised: this is what is forwarded
     * @param token empty on an open route
     */
    record Admitted(GuardedRoute route, String path, Optional<VerifiedToken> token) implements GateOutcome {}

    /** A page may make the call that its browser asked about. @param method that it asked about */
    record PageMay(GuardedRoute route, String method) implements GateOutcome {}

    /**
     * @param route   empty when none matched
     * @param allowed the methods the path exists with; empty unless the reason is method-not-allowed
     */
    record Refused(Refusal refusal, Optional<GuardedRoute> route, Set<String> allowed) implements GateOutcome {}
}
