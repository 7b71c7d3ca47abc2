package dev.admit.core.catalogue;

import dev.admit.contract.ChangeNote;
import dev.admit.contract.PublicationWanted;
import dev.admit.core.audit.Audit;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.Expected;
import dev.admit.core.change.Fields;
import dev.admit.core.change.Transactions;
import dev.admit.core.person.People;
import dev.admit.core.person.Person;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Issuer;
import java.time.Clock;
import java.time.LocalDate;
import java.time.format.DateTimeParseException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** Says who finds an API in the catalogue, and what is said of it there. */
public final class Publish {
    private static final int LONGEST_DESCRIPTION = 4_000;
    private static final int LONGEST_START = 40_000;
    private static final int LONGEST_CHANGE = 1_000;
    private static final int MOST_CHANGES = 100;
    private static final int MOST_PEOPLE = 200;

    private final Transactions transactions;
    private final Publications publications;
    private final People people;
    private final Audit audit;
    private final Clock clock;

    public Publish(Transactions transactions, Publications publications, People people, Audit audit, Clock clock) {
        this.transactions = transactions;
        this.publications = publications;
        this.people = people;
        this.audit = audit;
        this.clock = clock;
    }

    public Change<Publication> change(Issuer issuer, Api api, PublicationWanted wanted, Expected expected, Actor by) {
        Fields fields = new Fields();
        return transactions.inOne(() -> {
            Publication old = publications.of(api.id()).orElseGet(() -> Publication.none(api.id()));
            Optional<Change<Publication>> stale = expected.stale(old.version());
            if (stale.isPresent()) return stale.get();
            Readers readers = wanted.readers() == null
                    ? old.readers()
                    : fields.word("/readers", wanted.readers(), Readers.class, Readers.NONE)
                            .orElse(old.readers());
            Publication now = new Publication(
                    api.id(),
                    readers,
                    wanted.people() == null ? old.people() : people(fields, issuer, wanted.people()),
                    wanted.description() == null
                            ? old.description()
                            : fields.text("/description", wanted.description(), LONGEST_DESCRIPTION),
                    wanted.gettingStarted() == null
                            ? old.gettingStarted()
                            : fields.text("/getting_started", wanted.gettingStarted(), LONGEST_START),
                    wanted.changes() == null ? old.changes() : changes(fields, wanted.changes()),
                    old.version() + 1,
                    Optional.of(clock.instant()));
            if (readers == Readers.NAMED && now.people().isEmpty() && !fields.faulty())
                fields.fault(
                        "/people",
                        "the addresses of those who find it",
                        "nothing",
                        "Name at least one person, or choose other readers.");
            if (fields.faulty()) return new Change.Invalid<>(fields.faults());
            if (old.said().equals(now.said())) return Change.made(old, "Nothing differs from what is there.");
            publications.put(now);
            if (old.changedAt().isPresent())
                audit.changed(by, issuer.id(), "catalogue.changed", api.name(), said(old), said(now));
            else audit.added(by, issuer.id(), "catalogue.added", api.name(), said(now));
            return new Change.Made<>(now, fields.notes());
        });
    }

    /** A publication as one would have to want it, with the addresses of people. */
    public static PublicationWanted said(Publication it, People people) {
        return new PublicationWanted(
                it.readers().toString(),
                it.people().stream()
                        .flatMap(id -> people.find(id).stream())
                        .map(Person::email)
                        .sorted()
                        .toList(),
                it.description(),
                it.gettingStarted(),
                it.changes().stream()
                        .map(note -> new ChangeNote(note.date(), note.text()))
                        .toList());
    }

    private PublicationWanted said(Publication it) {
        return said(it, people);
    }

    private List<String> people(Fields fields, Issuer issuer, List<String> addresses) {
        Set<String> ids = new LinkedHashSet<>();
        for (int i = 0; i < addresses.size(); i++) {
            String said = addresses.get(i) == null ? "" : addresses.get(i).strip();
            Optional<Person> person =
                    people.named(issuer.id(), said.contains("@") ? said.toLowerCase(Locale.ROOT) : said);
            if (person.isPresent()) ids.add(person.get().id());
            else
                fields.fault(
                        "/people/" + i,
                        "the address of a person of this issuer",
                        said.isEmpty() ? "nothing" : Fields.quoted(said),
                        "Add the person first.");
        }
        if (ids.size() > MOST_PEOPLE)
            fields.fault("/people", "at most " + MOST_PEOPLE, ids.size() + " of them", "Choose signed-in.");
        return List.copyOf(ids);
    }

    private static List<Publication.Note> changes(Fields fields, List<ChangeNote> wanted) {
        if (wanted.size() > MOST_CHANGES)
            fields.fault("/changes", "at most " + MOST_CHANGES, wanted.size() + " of them", "Leave old ones out.");
        List<Publication.Note> all = new ArrayList<>();
        for (int i = 0; i < wanted.size(); i++) {
            @Nullable ChangeNote it = wanted.get(i); // as everything that was sent, it may lack members
            Optional<LocalDate> on = day(fields, "/changes/" + i + "/date", it == null ? null : it.date());
            String text = fields.text("/changes/" + i + "/text", it == null ? null : it.text(), LONGEST_CHANGE);
            if (it == null || it.text() == null || it.text().isBlank())
                fields.fault("/changes/" + i + "/text", "a sentence", "nothing", "Say what changed.");
            on.ifPresent(day -> all.add(new Publication.Note(day.toString(), text)));
        }
        // ISO dates sort as texts do; of one day the order stays as it was said.
        all.sort(Comparator.comparing(Publication.Note::date).reversed());
        return List.copyOf(all);
    }

    private static Optional<LocalDate> day(Fields fields, String pointer, @Nullable String said) {
        try {
            return Optional.of(LocalDate.parse(said == null ? "" : said.strip()));
        } catch (DateTimeParseException none) {
            fields.fault(pointer, "a day", Fields.quoted(said), "Write it such as 2026-11-30.");
            return Optional.empty();
        }
    }
}
