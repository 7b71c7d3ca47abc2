package dev.admit.core.signin;

import dev.admit.core.approval.PersonalApprovals;
import dev.admit.core.approval.Withdrawal;
import dev.admit.core.audit.Audit;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.FieldFault;
import dev.admit.core.change.Fields;
import dev.admit.core.change.Transactions;
import dev.admit.core.person.Credentials;
import dev.admit.core.person.PasswordHashing;
import dev.admit.core.person.PasswordRule;
import dev.admit.core.person.People;
import dev.admit.core.person.Person;
import dev.admit.core.person.ProfileField;
import dev.admit.core.registry.Issuer;
import java.time.Clock;
import java.util.Map;
import java.util.Optional;

/** What people change of their own: profile, password, and what they approved. */
public final class OwnAccount {
    private final Transactions transactions;
    private final People people;
    private final Credentials credentials;
    private final ProfileReading profiles;
    private final PersonalApprovals personal;
    private final PasswordHashing hashing;
    private final EndSignIns end;
    private final Withdrawal withdrawal;
    private final Audit audit;
    private final Clock clock;

    public OwnAccount(
            Transactions transactions,
            People people,
            Credentials credentials,
            ProfileReading profiles,
            PersonalApprovals personal,
            PasswordHashing hashing,
            EndSignIns end,
            Withdrawal withdrawal,
            Audit audit,
            Clock clock) {
        this.transactions = transactions;
        this.people = people;
        this.credentials = credentials;
        this.profiles = profiles;
        this.personal = personal;
        this.hashing = hashing;
        this.end = end;
        this.withdrawal = withdrawal;
        this.audit = audit;
        this.clock = clock;
    }

    /** The person changes their profile: what they may edit, and nothing else. */
    public Change<Person> editProfile(Issuer issuer, Person person, Map<String, String> wanted, Actor by) {
        return transactions.inOne(() -> {
            Person old = people.find(person.id()).orElseThrow();
            Fields faults = new Fields();
            Map<String, String> profile = profiles.read(faults, issuer, wanted, old.profile(), ProfileField::editable);
            if (faults.faulty()) return new Change.Invalid<>(faults.faults());
            if (profile.equals(old.profile())) return Change.made(old);
            Person changed = old.with(profile, clock.instant());
            people.update(changed);
            audit.changed(by, issuer.id(), "person.changed", old.email(), old.withoutTime(), changed.withoutTime());
            return Change.made(changed);
        });
    }

    /**
     * Sets another password and signs the person out everywhere, because the one who had the old one may still be
     * signed in.
     */
    public Change<Person> setPassword(
            Issuer issuer, Person person, PersonRegistration.ChosenPassword password, Actor by) {
        Optional<String> fault = PasswordRule.faultOf(password.reveal(), person.email(), issuer.name());
        if (fault.isPresent())
            return Change.invalid(
                    new FieldFault("/password", "a password that is hard to guess", "one that is not", fault.get()));
        String hash = hashing.hash(password.reveal());
        return withdrawal.revoking(revoke -> {
            credentials.putPassword(person.id(), hash);
            end.all(person, revoke);
            audit.added(by, issuer.id(), "person.password-set", person.email(), Map.of("person", person.id()));
            return Change.made(person);
        });
    }

    /**
     * The person takes back what they approved for a client; its tokens on their behalf are refused from the next
     * request on.
     *
     * @param scope empty for all of it
     */
    public Change<Integer> withdraw(
            Person person, String clientId, String clientName, Optional<String> scope, Actor by) {
        return withdrawal.revoking(revoke -> {
            int gone = personal.delete(person.id(), clientId, scope);
            if (gone == 0) return new Change.Absent<>("approval", scope.orElse(clientName));
            if (scope.isEmpty()) end.ofClient(person, clientId);
            revoke.person(person.id(), Optional.of(clientId), scope);
            audit.added(
                    by,
                    person.issuerId(),
                    "approval.withdrawn-by-person",
                    clientName,
                    Map.of("person", person.id(), "scope", scope.orElse("all")));
            return Change.made(gone);
        });
    }

    /** Signs them out everywhere, also where clients act for them while they are away. */
    public Change<Person> endSessions(Person person, Actor by) {
        return withdrawal.revoking(revoke -> {
            end.all(person, revoke);
            audit.added(by, person.issuerId(), "person.sessions-ended", person.email(), Map.of("person", person.id()));
            return Change.made(person);
        });
    }

    /** They read the mail at their address. */
    void proven(Person person) {
        transactions.inOne(() -> {
            people.find(person.id()).ifPresent(it -> people.update(it.verified(clock.instant())));
            return null;
        });
    }
}
