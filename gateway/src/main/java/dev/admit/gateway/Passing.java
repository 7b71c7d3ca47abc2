package dev.admit.gateway;

import dev.admit.core.decision.Recorder;
import dev.admit.core.gate.GateOutcome;
import dev.admit.core.upstream.Presenting;
import java.util.Optional;

/**
 * An admitted request on its way to the upstream.
 *
 * @param presented what the gateway itself shows there
 * @param again whether it was sent before
 */
record Passing(
        GateOutcome.Admitted admitted, Recorder decision, Optional<Presenting.Presented> presented, boolean again) {
    private static final String ATTRIBUTE = Passing.class.getName();

    Passing(GateOutcome.Admitted admitted, Recorder decision) {
        this(admitted, decision, Optional.empty(), false);
    }

    Passing presenting(Presenting.Presented it) {
        return new Passing(admitted, decision, Optional.of(it), presented.isPresent());
    }

    static Passing of(org.eclipse.jetty.util.Attributes request) {
        return (Passing) request.getAttribute(ATTRIBUTE);
    }

    void attachTo(org.eclipse.jetty.util.Attributes request) {
        request.setAttribute(ATTRIBUTE, this);
    }
}
