package dev.admit.core.grant;

import dev.admit.core.approval.Withdrawal;
import dev.admit.core.audit.Audit;
import dev.admit.core.authorization.AuthorizationGrant;
import dev.admit.core.authorization.AuthorizationGrants;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import java.time.Instant;
import java.util.Map;

/** Ends all that one authorization led to. */
public final class EndGrant {
    private final AuthorizationGrants grants;
    private final Withdrawal withdrawal;
    private final Audit audit;

    public EndGrant(AuthorizationGrants grants, Withdrawal withdrawal, Audit audit) {
        this.grants = grants;
        this.withdrawal = withdrawal;
        this.audit = audit;
    }

    /** A code or a refresh token of it was used twice: another person has it. */
    void misused(AuthorizationGrant grant, Actor by, Instant now) {
        end(grant, "grant.misused", by, now);
    }

    /** The client gave its refresh token back, or the person withdrew what they had given. */
    public Change<AuthorizationGrant> end(AuthorizationGrant grant, String what, Actor by, Instant now) {
        return withdrawal.revoking(revoke -> {
            grants.end(grant.id(), now);
            revoke.grant(grant.id());
            audit.added(
                    by,
                    grant.issuerId(),
                    what,
                    grant.id(),
                    Map.of("client", grant.clientId(), "person", grant.personId()));
            return Change.made(grant);
        });
    }
}
