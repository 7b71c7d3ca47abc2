package dev.admit.gateway;

import dev.admit.core.decision.Decision;
import dev.admit.core.gate.GateOutcome;

/** An admitted request on its way to the upstream. */
record Passing(GateOutcome.Admitted admitted, Decision.Builder decision) {
    private static final String ATTRIBUTE = Passing.class.getName();

    static Passing of(org.eclipse.jetty.util.Attributes request) {
        return (Passing) request.getAttribute(ATTRIBUTE);
    }

    void attachTo(org.eclipse.jetty.util.Attributes request) {
        request.setAttribute(ATTRIBUTE, this);
    }
}
