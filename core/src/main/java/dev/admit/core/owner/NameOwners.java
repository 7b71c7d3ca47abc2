package dev.admit.core.owner;

import dev.admit.core.audit.Audit;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.FieldFault;
import dev.admit.core.change.Fields;
import dev.admit.core.change.Transactions;
import dev.admit.core.person.People;
import dev.admit.core.person.Person;
import dev.admit.core.registry.Issuer;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** Says who answers for an API or a client, and hands over what a leaver answered for. */
public final class NameOwners {
    private static final int MOST = 20;

    private final Transactions transactions;
    private final Owners owners;
    private final People people;
    private final Audit audit;
    private final Clock clock;

    public NameOwners(Transactions transactions, Owners owners, People people, Audit audit, Clock clock) {
        this.transactions = transactions;
        this.owners = owners;
        this.people = people;
        this.audit = audit;
        this.clock = clock;
    }

    /** @param named the address or id of a person of the issuer */
    public Change<Owner> name(Issuer issuer, String named, Owned owned, Actor by) {
        if (!by.isAdministrator()) return Change.Forbidden.toAllBut("administrators", "name owners");
        return transactions.inOne(() -> {
            Optional<Person> person = people.named(issuer.id(), said(named));
            if (person.isEmpty()) return Change.invalid(nobody("/person", named));
            if (!person.get().enabled())
                return new Change.Refused<>(
                        "%s is switched off.".formatted(person.get().email()),
                        "Switch them on first, or name another person.");
            if (owners.of(owned).size() >= MOST)
                return new Change.Refused<>(
                        "%d people answer for %s already.".formatted(MOST, owned), "Release one of them first.");
            Owner owner =
                    new Owner(issuer.id(), person.get().id(), person.get().email(), owned, clock.instant(), by.name());
            if (!insert(owner, by))
                return Change.made(owner, "%s answered for %s before.".formatted(owner.email(), owned));
            return Change.made(owner);
        });
    }

    /** They no longer answer for it. */
    public Change<Owner> release(Issuer issuer, String named, Owned owned, Actor by) {
        if (!by.isAdministrator()) return Change.Forbidden.toAllBut("administrators", "name owners");
        return transactions.inOne(() -> {
            Optional<Person> person = people.named(issuer.id(), said(named));
            Optional<Owner> owner = owners.of(owned).stream()
                    .filter(it ->
                            person.filter(one -> one.id().equals(it.personId())).isPresent())
                    .findFirst();
            if (owner.isEmpty()) return new Change.Absent<>("owner", said(named));
            delete(owner.get(), by);
            return owners.of(owned).isEmpty()
                    ? Change.made(owner.get(), "Nobody answers for %s any more.".formatted(owned))
                    : Change.made(owner.get());
        });
    }

    /**
     * Exactly these answer for it.
     *
     * @param pointer where the list stands in the request
     */
    public Change<List<Owner>> set(Issuer issuer, Owned owned, List<String> addresses, String pointer, Actor by) {
        if (!by.isAdministrator()) return Change.Forbidden.toAllBut("administrators", "name owners");
        return transactions.inOne(() -> {
            List<FieldFault> faults = new ArrayList<>();
            Set<Person> wanted = new LinkedHashSet<>();
            for (int i = 0; i < addresses.size(); i++) {
                Optional<Person> person = people.named(issuer.id(), said(addresses.get(i)));
                if (person.isPresent()) wanted.add(person.get());
                else faults.add(nobody(pointer + "/" + i, addresses.get(i)));
            }
            if (wanted.size() > MOST)
                faults.add(new FieldFault(pointer, "at most " + MOST, wanted.size() + " of them", "Name fewer."));
            if (!faults.isEmpty()) return new Change.Invalid<>(faults);
            for (Owner before : owners.of(owned)) {
                if (wanted.stream().noneMatch(it -> it.id().equals(before.personId()))) delete(before, by);
            }
            Instant now = clock.instant();
            for (Person person : wanted)
                insert(new Owner(issuer.id(), person.id(), person.email(), owned, now, by.name()), by);
            return Change.made(owners.of(owned));
        });
    }

    /** Everything that one person answers for goes over to another, who may answer for some of it already. */
    public Change<List<Owner>> handOver(Issuer issuer, @Nullable String from, @Nullable String to, Actor by) {
        if (!by.isAdministrator()) return Change.Forbidden.toAllBut("administrators", "name owners");
        return transactions.inOne(() -> {
            Optional<Person> leaver = people.named(issuer.id(), said(from));
            Optional<Person> heir = people.named(issuer.id(), said(to));
            List<FieldFault> faults = new ArrayList<>();
            if (leaver.isEmpty()) faults.add(nobody("/from", from));
            if (heir.isEmpty()) faults.add(nobody("/to", to));
            if (leaver.isPresent() && leaver.equals(heir))
                faults.add(new FieldFault(
                        "/to",
                        "another person than " + leaver.get().email(),
                        "the same person",
                        "Name who takes it over."));
            if (!faults.isEmpty()) return new Change.Invalid<>(faults);
            if (!heir.get().enabled())
                return new Change.Refused<>(
                        "%s is switched off.".formatted(heir.get().email()),
                        "Switch them on first, or name another person.");
            List<Owner> before = owners.ofPerson(leaver.get().id());
            if (before.isEmpty())
                return Change.made(
                        List.of(),
                        "%s answers for nothing.".formatted(leaver.get().email()));
            List<Owner> handed = new ArrayList<>();
            for (Owner owner : before) {
                Owner next = new Owner(
                        issuer.id(), heir.get().id(), heir.get().email(), owner.owned(), clock.instant(), by.name());
                insert(next, by);
                delete(owner, by);
                handed.add(next);
            }
            return Change.made(handed);
        });
    }

    private boolean insert(Owner owner, Actor by) {
        boolean fresh = owners.insert(owner);
        if (fresh)
            audit.added(by, owner.issuerId(), "owner.named", owner.owned().name(), described(owner));
        return fresh;
    }

    private void delete(Owner owner, Actor by) {
        owners.delete(owner.personId(), owner.owned());
        audit.removed(by, owner.issuerId(), "owner.released", owner.owned().name(), described(owner));
    }

    private static Map<String, String> described(Owner it) {
        return Map.of(
                "owner",
                it.email(),
                "person",
                it.personId(),
                "of",
                it.owned().kind().toString());
    }

    private static FieldFault nobody(String pointer, @Nullable String received) {
        return new FieldFault(
                pointer,
                "the address of a person of this issuer",
                said(received).isEmpty() ? "nothing" : Fields.quoted(received),
                "Add the person first.");
    }

    private static String said(@Nullable String named) {
        String stripped = named == null ? "" : named.strip();
        return stripped.contains("@") ? stripped.toLowerCase(Locale.ROOT) : stripped;
    }
}
