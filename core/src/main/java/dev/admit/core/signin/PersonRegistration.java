package dev.admit.core.signin;

import dev.admit.contract.PersonWanted;
import dev.admit.core.access.AdminRole;
import dev.admit.core.approval.Withdrawal;
import dev.admit.core.audit.Audit;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.Expected;
import dev.admit.core.change.FieldFault;
import dev.admit.core.change.Fields;
import dev.admit.core.change.Ids;
import dev.admit.core.change.Transactions;
import dev.admit.core.owner.Owners;
import dev.admit.core.person.Credentials;
import dev.admit.core.person.PasswordHashing;
import dev.admit.core.person.PasswordRule;
import dev.admit.core.person.People;
import dev.admit.core.person.Person;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Role;
import dev.admit.core.registry.Roles;
import dev.admit.core.registry.Scope;
import dev.admit.core.registry.Scopes;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * Adds people, changes what is known of them and what they may do, and takes them out; what they lose ends with the
 * next request.
 */
public final class PersonRegistration {
    private static final int MOST_ROLES = 50;

    private final Transactions transactions;
    private final People people;
    private final Credentials credentials;
    private final ProfileReading profiles;
    private final Roles roles;
    private final PasswordHashing hashing;
    private final EndSignIns end;
    private final Owners owners;
    private final Scopes scopes;
    private final Withdrawal withdrawal;
    private final Audit audit;
    private final Clock clock;

    public PersonRegistration(
            Transactions transactions,
            People people,
            Credentials credentials,
            ProfileReading profiles,
            Roles roles,
            PasswordHashing hashing,
            EndSignIns end,
            Owners owners,
            Scopes scopes,
            Withdrawal withdrawal,
            Audit audit,
            Clock clock) {
        this.transactions = transactions;
        this.people = people;
        this.credentials = credentials;
        this.profiles = profiles;
        this.roles = roles;
        this.hashing = hashing;
        this.end = end;
        this.owners = owners;
        this.scopes = scopes;
        this.withdrawal = withdrawal;
        this.audit = audit;
        this.clock = clock;
    }

    /** A password as it was chosen. Stored nowhere but as a hash. */
    public static final class ChosenPassword {
        private final String text;

        public ChosenPassword(String text) {
            this.text = text == null ? "" : text;
        }

        public String reveal() {
            return text;
        }

        @Override
        public String toString() {
            return "ChosenPassword[hidden]";
        }
    }

    /**
     * Adds a person whose address an administrator vouches for.
     *
     * @param password empty when they are to choose one by mail
     */
    public Change<Person> add(Issuer issuer, PersonWanted wanted, Optional<ChosenPassword> password, Actor by) {
        return add(issuer, wanted, password, true, by);
    }

    Change<Person> add(
            Issuer issuer, PersonWanted wanted, Optional<ChosenPassword> password, boolean verified, Actor by) {
        if ((wanted.adminRole() != null
                        || wanted.roles() != null && !wanted.roles().isEmpty())
                && !by.isAdministrator()) return grantingRoles();
        Fields faults = new Fields();
        String email = faults.email("/email", wanted.email());
        Map<String, String> profile = profiles.read(faults, issuer, wanted.profile(), Map.of(), field -> true);
        List<String> chosen = wanted.roles() == null ? List.of() : readRoles(faults, issuer, wanted.roles());
        Optional<AdminRole> adminRole = readAdminRole(faults, wanted.adminRole(), Optional.empty());
        password.flatMap(it -> PasswordRule.faultOf(it.reveal(), email, issuer.name()))
                .ifPresent(sentence ->
                        faults.fault("/password", "a password that is hard to guess", "one that is not", sentence));
        if (faults.faulty()) return new Change.Invalid<>(faults.faults());
        Optional<String> hash = password.map(it -> hashing.hash(it.reveal())); // slow, so not in the transaction
        Instant now = clock.instant();
        Person person = new Person(
                Ids.random("pe_"), issuer.id(), email, verified, profile, chosen, adminRole, true, 1, now, now);
        return transactions.inOne(() -> {
            if (people.named(issuer.id(), email).isPresent())
                return new Change.Taken<>(new FieldFault(
                        "/email",
                        "an address no person here has",
                        Fields.quoted(email),
                        "Change the one that is there."));
            people.insert(person);
            hash.ifPresent(it -> credentials.putPassword(person.id(), it));
            audit.added(by, issuer.id(), "person.added", email, person);
            if (adminRole.isPresent()) noteAdminRole(issuer, person, Optional.empty(), by);
            return new Change.Made<>(person, faults.notes());
        });
    }

    private List<String> roleNames(Issuer issuer, Person person) {
        return person.roles().stream()
                .map(id -> roles.named(issuer.id(), id).map(Role::name).orElse(id))
                .toList();
    }

    private static Change<Person> grantingRoles() {
        return Change.Forbidden.toAllBut("administrators", "give a person a role");
    }

    /** A line of its own, by which the review finds who may run Admit since when, and from whom. */
    private void noteAdminRole(Issuer issuer, Person person, Optional<AdminRole> before, Actor by) {
        audit.added(
                by,
                issuer.id(),
                AdminRoleChange.WHAT,
                person.email(),
                Map.of(
                        "person",
                        person.id(),
                        "before",
                        before.map(Object::toString).orElse("none"),
                        "after",
                        person.adminRole().map(Object::toString).orElse("none")));
    }

    /**
     * Changes address, profile, roles; tokens on their behalf with a scope that they lose are refused from the next
     * request on.
     */
    public Change<Person> change(Issuer issuer, String named, PersonWanted wanted, Expected expected, Actor by) {
        if (!by.isAdministrator()) return Change.Forbidden.toAllBut("administrators", "change a person");
        return withdrawal.revoking(revoke -> {
            Fields faults = new Fields();
            Optional<Person> found = people.named(issuer.id(), named);
            if (found.isEmpty()) return new Change.Absent<>("person", named);
            Person old = found.get();
            Optional<Change<Person>> stale = expected.stale(old.version());
            if (stale.isPresent()) return stale.get();
            String email = wanted.email() == null ? old.email() : faults.email("/email", wanted.email());
            Map<String, String> profile = profiles.read(faults, issuer, wanted.profile(), old.profile(), field -> true);
            List<String> chosen = wanted.roles() == null ? old.roles() : readRoles(faults, issuer, wanted.roles());
            Optional<AdminRole> adminRole = readAdminRole(faults, wanted.adminRole(), old.adminRole());
            if (faults.faulty()) return new Change.Invalid<>(faults.faults());
            if (!email.equals(old.email()) && people.named(issuer.id(), email).isPresent()) {
                return new Change.Taken<>(new FieldFault(
                        "/email", "an address no other person here has", Fields.quoted(email), "Choose another."));
            }
            Person changed = new Person(
                    old.id(),
                    old.issuerId(),
                    email,
                    old.emailVerified(),
                    profile,
                    chosen,
                    adminRole,
                    old.enabled(),
                    old.version() + 1,
                    old.createdAt(),
                    clock.instant());
            if (Audit.same(old.withoutTime(), changed.withoutTime()))
                return Change.made(old, "Nothing differs from what is there.");
            people.update(changed);
            for (String lost : lostScopes(issuer, old, changed))
                revoke.person(old.id(), Optional.empty(), Optional.of(lost));
            if (!old.adminRole().equals(adminRole)) revoke.person(old.id(), Optional.empty(), Optional.empty());
            audit.changed(by, issuer.id(), "person.changed", changed.email(), old.withoutTime(), changed.withoutTime());
            if (!old.adminRole().equals(adminRole)) noteAdminRole(issuer, changed, old.adminRole(), by);
            faults.removed("role", roleNames(issuer, old), roleNames(issuer, changed));
            return new Change.Made<>(changed, faults.notes());
        });
    }

    private List<String> lostScopes(Issuer issuer, Person old, Person changed) {
        List<String> before = scopesOf(issuer, old.roles());
        before.removeAll(scopesOf(issuer, changed.roles()));
        return before;
    }

    private List<String> scopesOf(Issuer issuer, List<String> roleIds) {
        List<String> scopes = new ArrayList<>();
        for (String role : roleIds) roles.named(issuer.id(), role).ifPresent(it -> scopes.addAll(it.scopes()));
        return scopes;
    }

    /** Off, they are signed out everywhere, and tokens on their behalf are refused from the next request on. */
    public Change<Person> switchTo(Issuer issuer, String named, boolean on, Actor by) {
        if (!by.isAdministrator()) return Change.Forbidden.toAllBut("administrators", "change a person");
        return withdrawal.revoking(revoke -> {
            Optional<Person> found = people.named(issuer.id(), named);
            if (found.isEmpty()) return new Change.Absent<>("person", named);
            Person old = found.get();
            if (old.enabled() == on) return Change.made(old, "It was %s before.".formatted(on ? "on" : "off"));
            Person switched = new Person(
                    old.id(),
                    old.issuerId(),
                    old.email(),
                    old.emailVerified(),
                    old.profile(),
                    old.roles(),
                    old.adminRole(),
                    on,
                    old.version() + 1,
                    old.createdAt(),
                    clock.instant());
            people.update(switched);
            if (!on) end.all(old, revoke);
            audit.changed(by, issuer.id(), on ? "person.on" : "person.off", old.email(), old, switched);
            List<String> theirs = on ? List.of() : theirs(old);
            return theirs.isEmpty()
                    ? Change.made(switched)
                    : Change.made(
                            switched,
                            "They answer for %s. Hand it over to another person."
                                    .formatted(String.join(" and ", theirs)));
        });
    }

    /**
     * Takes a person out, with all that was approved and issued.
     *
     * @param confirm their address
     */
    public Change<Person> remove(Issuer issuer, String named, String confirm, Actor by) {
        if (!by.isAdministrator()) return Change.Forbidden.toAllBut("administrators", "change a person");
        return withdrawal.revoking(revoke -> {
            Optional<Person> found = people.named(issuer.id(), named);
            if (found.isEmpty()) return new Change.Absent<>("person", named);
            Person person = found.get();
            List<String> naming = scopes.withStanding(issuer.id()).stream()
                    .filter(it -> it.standing().orElseThrow().owners().contains(person.id()))
                    .map(Scope::name)
                    .toList();
            if (!naming.isEmpty()) {
                return new Change.Refused<>(
                        "The standing approval of %s goes by what %s answers for."
                                .formatted(String.join(" and ", naming), person.email()),
                        "Remove them there first.");
            }
            if (!person.email().equals(confirm)) {
                return new Change.NeedsConfirmation<>(person.email(), wouldBreak(person));
            }
            end.all(person, revoke);
            people.delete(person.id());
            audit.removed(by, issuer.id(), "person.removed", person.email(), person);
            return Change.made(person);
        });
    }

    private List<String> theirs(Person person) {
        return owners.ofPerson(person.id()).stream()
                .map(it -> it.owned().toString())
                .toList();
    }

    private List<String> wouldBreak(Person person) {
        List<String> wouldBreak = new ArrayList<>(List.of(
                "the person's profile, approvals and sessions", "every token that a client holds on their behalf"));
        theirs(person).forEach(thing -> wouldBreak.add("what they answer for: " + thing));
        return wouldBreak;
    }

    /** Takes the second factor away, for a person who lost theirs. */
    public Change<Person> resetFactor(Issuer issuer, String named, Actor by) {
        if (!by.isAdministrator()) return Change.Forbidden.toAllBut("administrators", "change a person");
        return transactions.inOne(() -> {
            Optional<Person> found = people.named(issuer.id(), named);
            if (found.isEmpty()) return new Change.Absent<>("person", named);
            if (credentials.seed(found.get().id()).isEmpty())
                return new Change.Refused<>(
                        "%s has no second factor.".formatted(found.get().email()), "Nothing is to be reset.");
            credentials.putSeed(found.get().id(), Optional.empty());
            audit.added(
                    by,
                    issuer.id(),
                    "person.factor-removed",
                    found.get().email(),
                    Map.of("person", found.get().id()));
            return Change.made(found.get());
        });
    }

    private List<String> readRoles(Fields faults, Issuer issuer, List<String> wanted) {
        if (wanted.size() > MOST_ROLES)
            faults.fault(
                    "/roles",
                    "at most " + MOST_ROLES,
                    wanted.size() + " of them",
                    "Make a role that stands for several.");
        List<String> ids = new ArrayList<>();
        for (int i = 0; i < wanted.size(); i++) {
            String name = Objects.requireNonNullElse(wanted.get(i), "").strip();
            Optional<Role> role = roles.named(issuer.id(), name);
            if (role.isEmpty())
                faults.fault(
                        "/roles/" + i,
                        "the name of a role of this issuer",
                        name.isEmpty() ? "nothing" : Fields.quoted(name),
                        "List them with: admit role list");
            role.map(Role::id).filter(id -> !ids.contains(id)).ifPresent(ids::add);
        }
        return ids;
    }

    private static Optional<AdminRole> readAdminRole(Fields faults, @Nullable String wanted, Optional<AdminRole> old) {
        if (wanted == null) return old;
        return wanted.isBlank() || wanted.strip().equals("none")
                ? Optional.empty()
                : faults.word("/admin_role", wanted, AdminRole.class, null);
    }
}
