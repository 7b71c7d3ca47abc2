package dev.admit.core.grant;

import dev.admit.core.approval.Withdrawal;
import dev.admit.core.audit.Audit;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.decision.Decision;
import dev.admit.core.family.Families;
import dev.admit.core.family.Family;
import java.time.Instant;
import java.util.Map;

/** Ends all that one authorization led to. */
public final class EndFamily {
    private final Families families;
    private final Withdrawal withdrawal;
    private final Audit audit;

    public EndFamily(Families families, Withdrawal withdrawal, Audit audit) {
        this.families = families;
        this.withdrawal = withdrawal;
        this.audit = audit;
    }

    /** A code or a refresh token of it was used twice: somebody else has it. */
    void misused(Family family, Decision.Builder decision) {
        end(
                family,
                "family.misused",
                new Actor(family.clientId(), decision.clientName(), decision.from()),
                decision.at());
        decision.done("ended everything of the same authorization");
    }

    /** The client gave its refresh token back, or the person took back what they had given. */
    public Change<Family> end(Family family, String what, Actor by, Instant now) {
        return withdrawal.revoking(revoke -> {
            families.end(family.id(), now);
            revoke.family(family.id());
            audit.added(
                    by,
                    family.issuerId(),
                    what,
                    family.id(),
                    Map.of("client", family.clientId(), "person", family.personId()));
            return Change.made(family);
        });
    }
}
