package dev.admit.server.pages;

import dev.admit.core.key.MasterKey;
import java.util.Optional;
import org.springframework.stereotype.Component;

/** Seals what goes on with a form, and opens what came back with one. */
@Component
class Flows {
    private final MasterKey masterKey;

    Flows(MasterKey masterKey) {
        this.masterKey = masterKey;
    }

    /** The flow that the form carries; empty when there is none, or one that is not ours or too old. */
    Optional<Flow> of(Visit visit) {
        return Flow.open(
                visit.form().one("flow"),
                masterKey,
                visit.issuer().url(),
                visit.decision().at());
    }

    String sealed(Visit visit, Flow flow) {
        return flow.sealed(masterKey, visit.issuer().url());
    }

    /** Where the way of this form may end, outside of here. */
    Optional<String> leadsTo(Visit visit) {
        return of(visit).flatMap(Flow::leadsTo);
    }
}
