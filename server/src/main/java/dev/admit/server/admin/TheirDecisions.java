package dev.admit.server.admin;

import dev.admit.core.decision.Decision;
import dev.admit.core.owner.Owner;
import dev.admit.core.owner.Owners;
import org.springframework.stereotype.Component;

/** Which decisions a person may see: those of their issuer, and where they only answer for something, those of that. */
@Component
class TheirDecisions {
    private final Owners owners;

    TheirDecisions(Owners owners) {
        this.owners = owners;
    }

    /**
     * @param only the name of the only issuer they may see, or null
     * @param ownedBy the person who answers for something, or null
     */
    boolean mayBeSeen(Decision it, String only, String ownedBy) {
        if (only != null && !it.about().issuer().equals(only)) return false;
        return ownedBy == null
                || owners.ofPerson(ownedBy).stream().map(Owner::owned).anyMatch(owned -> switch (owned.kind()) {
                    case API -> owned.name().equals(it.about().api());
                    case CLIENT -> owned.id().equals(it.about().clientId());
                });
    }
}
