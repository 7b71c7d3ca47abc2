package dev.admit.core.signin;

import dev.admit.core.approval.Withdrawal;
import dev.admit.core.authorization.AuthorizationGrants;
import dev.admit.core.person.Person;
import java.time.Clock;
import java.time.Instant;
import java.util.Optional;

/** Ends everything that leans on a person being signed in, or on their word while they are away. */
public final class EndSignIns {
    private final Sessions sessions;
    private final AuthorizationGrants grants;
    private final Clock clock;

    public EndSignIns(Sessions sessions, AuthorizationGrants grants, Clock clock) {
        this.sessions = sessions;
        this.grants = grants;
        this.clock = clock;
    }

    /** To be called in the transaction of the change, as the next one. */
    void all(Person person, Withdrawal.Revoke revoke) {
        for (Session session : sessions.ofPerson(person.id(), Instant.EPOCH)) sessions.delete(session.id());
        grants.endOfPerson(person.id(), Optional.empty(), clock.instant());
        revoke.person(person.id(), Optional.empty(), Optional.empty());
    }

    /** What a client does for them. */
    void ofClient(Person person, String clientId) {
        grants.endOfPerson(person.id(), Optional.of(clientId), clock.instant());
    }
}
