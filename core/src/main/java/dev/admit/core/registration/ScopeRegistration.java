package dev.admit.core.registration;

import dev.admit.contract.ScopeWanted;
import dev.admit.contract.StandingApprovalWanted;
import dev.admit.core.access.AdminApi;
import dev.admit.core.approval.Approval;
import dev.admit.core.approval.Approvals;
import dev.admit.core.approval.Withdrawal;
import dev.admit.core.audit.Audit;
import dev.admit.core.authorize.IdentityScopes;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.Expected;
import dev.admit.core.change.FieldFault;
import dev.admit.core.change.Fields;
import dev.admit.core.change.Ids;
import dev.admit.core.change.Page;
import dev.admit.core.change.Republish;
import dev.admit.core.change.Transactions;
import dev.admit.core.decision.Command;
import dev.admit.core.person.People;
import dev.admit.core.person.Person;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Apis;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.ClientKind;
import dev.admit.core.registry.Clients;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Role;
import dev.admit.core.registry.Roles;
import dev.admit.core.registry.Scope;
import dev.admit.core.registry.Scope.Approver;
import dev.admit.core.registry.Scope.Effect;
import dev.admit.core.registry.Scope.For;
import dev.admit.core.registry.Scope.Reach;
import dev.admit.core.registry.Scope.Status;
import dev.admit.core.registry.Scopes;
import dev.admit.core.registry.StandingApproval;
import dev.admit.core.route.Route;
import dev.admit.core.route.Routes;
import java.time.Clock;
import java.time.Instant;
import java.time.format.DateTimeParseException;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.function.BiFunction;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/** Adds scopes to APIs, changes and removes them. */
public final class ScopeRegistration {
    /** RFC 6749 §3.3: scope-token. */
    private static final Pattern SCOPE_TOKEN = Pattern.compile("[!#-\\[\\]-~]+");

    private static final int LONGEST_NAME = 200;
    private static final int MOST_STANDING = 20;
    private static final Page.Ask TAGGED = Page.Ask.first(20);
    private static final String AHEAD = "A client that fits has %s as soon as it requests it, without anyone's answer.";
    private static final Pattern USUAL_NAME = Pattern.compile("[a-z0-9]+(-[a-z0-9]+)*(\\.[a-z0-9]+(-[a-z0-9]+)*)+");
    private static final Set<String> EVERYTHING =
            Set.of("all", "any", "everything", "full", "full-access", "access", "superuser");

    private static final Pattern PLACEHOLDER = Pattern.compile("\\{[^}]*}");

    private final Transactions transactions;
    private final Apis apis;
    private final Scopes scopes;
    private final Roles roles;
    private final Routes routes;
    private final Approvals approvals;
    private final People people;
    private final Clients clients;
    private final NamedBy namedBy;
    private final Withdrawal withdrawal;
    private final Audit audit;
    private final Republish live;
    private final Clock clock;

    public ScopeRegistration(
            Transactions transactions,
            Apis apis,
            Scopes scopes,
            Roles roles,
            Routes routes,
            Approvals approvals,
            People people,
            Clients clients,
            NamedBy namedBy,
            Withdrawal withdrawal,
            Audit audit,
            Republish live,
            Clock clock) {
        this.transactions = transactions;
        this.apis = apis;
        this.scopes = scopes;
        this.roles = roles;
        this.routes = routes;
        this.approvals = approvals;
        this.people = people;
        this.clients = clients;
        this.namedBy = namedBy;
        this.withdrawal = withdrawal;
        this.audit = audit;
        this.live = live;
        this.clock = clock;
    }

    public Change<Scope> add(Issuer issuer, Api api, ScopeWanted wanted, Actor by) {
        if (namesPeople(wanted) && !by.isAdministrator()) return namingPeople();
        Fields fields = new Fields();
        // People are proposed as approvers to those alone who may name them.
        Optional<Scope> read = read(
                fields,
                api,
                by.isAdministrator() || wanted.approver() != null ? wanted : approvedByAdministrators(wanted),
                Optional.empty(),
                by);
        if (read.isEmpty()) return new Change.Invalid<>(fields.faults());
        Scope scope = read.get();
        // Or a scope could be removed and made anew with what its change would be refused.
        if (!by.isAdministrator() && scope.approver() == Approver.PERSON) return peopleApproving(scope);
        if (scope.standing().isPresent() && !mayGrant(by)) return standing();
        return published(transactions.inOne(() -> {
            if (scopes.named(issuer.id(), scope.name()).isPresent()) return taken(scope.name());
            // Where scopes are requested and granted, a role stands for its scopes: one word cannot mean both.
            if (roles.named(issuer.id(), scope.name()).isPresent())
                return new Change.Taken<>(new FieldFault(
                        "/name",
                        "a name that no role of this issuer has",
                        Fields.quoted(scope.name()),
                        "Choose another name."));
            scopes.insert(scope);
            audit.added(by, issuer.id(), "scope.added", scope.name(), scope);
            if (scope.standing().isPresent()) {
                fields.note(AHEAD.formatted(scope.name()));
                sayWhoFitsByTag(fields, scope, by);
            }
            List<String> notes = new ArrayList<>(fields.notes());
            notes.addAll(ScopeProposal.advice(scope, scopes.of(api.id()).size()));
            return new Change.Made<>(scope, notes);
        }));
    }

    /** A scope that is not saved, as it would be. */
    public Change<Scope> preview(Api api, ScopeWanted wanted, Actor by) {
        Fields fields = new Fields();
        return read(fields, api, wanted, Optional.empty(), by)
                .<Change<Scope>>map(Change::made)
                .orElseGet(() -> new Change.Invalid<>(fields.faults()));
    }

    /** Changes a scope; its name stays, because tokens and clients hold it. */
    public Change<Scope> change(Issuer issuer, Api api, String named, ScopeWanted wanted, Expected expected, Actor by) {
        if (namesPeople(wanted) && !by.isAdministrator()) return namingPeople();
        Fields fields = new Fields();
        return published(withdrawal.revoking(revoke -> {
            Optional<Scope> found = in(issuer, api, named);
            if (found.isEmpty()) return new Change.Absent<>("scope", named);
            Optional<Change<Scope>> stale = expected.stale(found.get().version());
            if (stale.isPresent()) return stale.get();
            if (wanted.name() != null
                    && !wanted.name().strip().equals(found.get().name())) {
                return Change.invalid(new FieldFault(
                        "/name",
                        found.get().name() + ", because clients and tokens hold that name",
                        Fields.quoted(wanted.name()),
                        "Add a scope with the new name, move the clients, then remove this one."));
            }
            Optional<Scope> read = read(fields, api, wanted, found, by);
            if (read.isEmpty()) return new Change.Invalid<>(fields.faults());
            if (Audit.same(found.get(), read.get()))
                return Change.made(found.get(), "Nothing differs from what is there.");
            boolean narrower = found.get().forWhom().people()
                            && !read.get().forWhom().people()
                    || found.get().forWhom().clients() && !read.get().forWhom().clients();
            if (narrower && !approvals.ofScope(found.get().id()).isEmpty()) {
                return new Change.Refused<>(
                        "%s is requested by clients that could not hold it then."
                                .formatted(found.get().name()),
                        "Take it off them first. List them with: "
                                + Command.of(
                                        "approval",
                                        "list",
                                        "--scope",
                                        found.get().name()));
            }
            if (!by.isAdministrator()
                    && found.get().approver() == Approver.ADMINISTRATOR
                    && read.get().approver() == Approver.PERSON) {
                return peopleApproving(read.get());
            }
            // Whom a scope is open to is a grant to all of them: an administrator's, or the owner's of the API.
            if (!by.isAdministrator() && !by.isOwner() && opensTo(found.get(), read.get()))
                return Change.Forbidden.toAllBut(
                        "administrators or owners of the API", "open a scope to more people or clients");
            // A standing approval is a grant to the one who fits; taking it away is not.
            boolean grantsAhead = read.get().standing().isPresent()
                    && !read.get().standing().equals(found.get().standing());
            if (grantsAhead && !mayGrant(by)) return standing();
            if (grantsAhead) {
                fields.note(AHEAD.formatted(read.get().name()));
                sayWhoFitsByTag(fields, read.get(), by);
                sayWhoWaits(fields, found.get());
            }
            if (found.get().standing().isPresent() && read.get().standing().isEmpty()) sayWhoKeeps(fields, found.get());
            boolean noLongerTheirs =
                    found.get().approver() == Approver.PERSON && read.get().approver() == Approver.ADMINISTRATOR;
            if (noLongerTheirs || !found.get().byRole() && read.get().byRole())
                revoke.people(issuer.id(), read.get().name());
            scopes.update(read.get());
            audit.changed(by, issuer.id(), "scope.changed", read.get().name(), found.get(), read.get());
            return new Change.Made<>(read.get(), fields.notes());
        }));
    }

    /**
     * Removes a scope that no route needs; tokens that lean on it end at once.
     *
     * @param confirm its name, when clients hold it
     */
    public Change<Scope> remove(Issuer issuer, Api api, String named, Expected expected, String confirm, Actor by) {
        return published(withdrawal.revoking(revoke -> {
            Optional<Scope> found = in(issuer, api, named);
            if (found.isEmpty()) return new Change.Absent<>("scope", named);
            Scope scope = found.get();
            Optional<Change<Scope>> stale = expected.stale(scope.version());
            if (stale.isPresent()) return stale.get();
            List<String> needing = routes.ofApi(issuer.id(), api.id()).stream()
                    .filter(route -> route.guard() instanceof Route.Guard.Token token
                            && token.scopes().contains(scope.name()))
                    .map(Route::label)
                    .toList();
            if (!needing.isEmpty()) {
                return new Change.Refused<>(
                        "%s is needed by %s, which nobody could pass without it."
                                .formatted(scope.name(), String.join(" and ", needing)),
                        "Change or remove the routes first.");
            }
            List<String> grouping = roles.of(api.id()).stream()
                    .filter(role -> role.scopes().contains(scope.name()))
                    .map(Role::name)
                    .toList();
            if (!grouping.isEmpty()) {
                return new Change.Refused<>(
                        "%s is part of the role %s.".formatted(scope.name(), String.join(" and ", grouping)),
                        "Remove it of the role first.");
            }
            Optional<Change<Scope>> naming = namedBy.refusalOfScope(issuer, scope.name());
            if (naming.isPresent()) return naming.get();
            List<Approval> asked = approvals.ofScope(scope.id());
            if (!asked.isEmpty() && !scope.name().equals(confirm)) {
                return new Change.NeedsConfirmation<>(
                        scope.name(),
                        asked.stream()
                                .map(approval -> "client %s: %s".formatted(approval.clientId(), approval.status()))
                                .toList());
            }
            if (!by.isAdministrator() && asked.stream().anyMatch(Approval::lastWord)) {
                return new Change.Refused<>(
                        "An administrator said no to a person who requested %s, and keeps the last word."
                                .formatted(scope.name()),
                        "Ask an administrator to remove it.");
            }
            asked.forEach(revoke::approval);
            scopes.delete(scope.id());
            audit.removed(by, issuer.id(), "scope.removed", scope.name(), scope);
            apis.named(issuer.id(), api.id())
                    .filter(it -> it.defaultScopes().contains(scope.name()))
                    .ifPresent(it -> dropDefault(it, scope, by));
            return Change.made(scope);
        }));
    }

    /** What is gone is no default scope any more. */
    private void dropDefault(Api api, Scope scope, Actor by) {
        Api changed = api.withoutDefaultScope(scope.name());
        apis.update(changed);
        audit.changed(by, api.issuerId(), "api.changed", api.name(), api, changed);
    }

    private static Change<Scope> peopleApproving(Scope scope) {
        return new Change.Refused<>(
                "That people approve %s themselves is for an administrator to allow.".formatted(scope.name()),
                "Ask an administrator.");
    }

    /**
     * Who answers for what is an administrator's to say, and nobody else is to learn which addresses and ids there are.
     */
    private static boolean namesPeople(ScopeWanted wanted) {
        StandingApprovalWanted standing = wanted.standingApproval();
        return standing != null
                && standing.owners() != null
                && !standing.owners().isEmpty();
    }

    private static Change<Scope> namingPeople() {
        return Change.Forbidden.toAllBut("administrators", "name people in a standing approval");
    }

    private static boolean mayGrant(Actor by) {
        return by.isAdministrator() || by.isOwner();
    }

    private static ScopeWanted approvedByAdministrators(ScopeWanted it) {
        return new ScopeWanted(
                it.name(),
                it.effect(),
                it.reach(),
                it.forWhom(),
                it.consequence(),
                Approver.ADMINISTRATOR.toString(),
                it.byRole(),
                it.status(),
                it.closesOn(),
                it.listed(),
                it.standingApproval());
    }

    private static Change<Scope> standing() {
        return Change.Forbidden.toAllBut("administrators or owners of the API", "give a standing approval");
    }

    /** Before a standing approval went by it, anybody who registers clients could put the tag on them. */
    private void sayWhoFitsByTag(Fields fields, Scope scope, Actor by) {
        List<String> tagged = scope.standing().orElseThrow().tags().stream()
                .flatMap(tag -> clients.list(scope.issuerId(), Clients.Filter.tagged(tag), TAGGED).items().stream())
                .map(Client::name)
                .distinct()
                .toList();
        if (tagged.isEmpty()) return;
        // Owners of an API do not learn which clients there are.
        String which = by.isAdministrator() ? String.join(", ", tagged) : String.valueOf(tagged.size());
        fields.note("Clients that carry such a tag already: %s.".formatted(which));
    }

    private void sayWhoWaits(Fields fields, Scope scope) {
        long waiting = approvals.ofScope(scope.id()).stream()
                .filter(it -> it.status() == Approval.Status.WAITING)
                .count();
        if (waiting > 0)
            fields.note(("What waits goes on waiting, because the standing approval answers requests from now on; "
                            + "requests that wait: %d. List them with: %s")
                    .formatted(
                            waiting, Command.of("approval", "list", "--status", "waiting", "--scope", scope.name())));
    }

    private void sayWhoKeeps(Fields fields, Scope scope) {
        long keeping = approvals.ofScope(scope.id()).stream()
                .filter(it -> it.byStanding() && it.isGrantedAt(clock.instant()))
                .count();
        if (keeping > 0)
            fields.note("What the standing approval gave stays given; clients that have it: %d. List them with: %s"
                    .formatted(
                            keeping, Command.of("approval", "list", "--status", "granted", "--scope", scope.name())));
    }

    private Optional<StandingApproval> readStanding(
            Fields fields, Api api, @Nullable StandingApprovalWanted wanted, Optional<StandingApproval> old, Actor by) {
        if (wanted == null) return old;
        List<ClientKind> kinds = wanted.kinds() == null
                ? old.map(StandingApproval::kinds).orElse(List.of())
                : each(
                        fields,
                        "/standing_approval/kinds",
                        wanted.kinds(),
                        (at, text) -> fields.word(at, text, ClientKind.class, null));
        List<String> tags = wanted.tags() == null
                ? old.map(StandingApproval::tags).orElse(List.of())
                : each(
                        fields,
                        "/standing_approval/tags",
                        wanted.tags(),
                        (at, text) -> ClientReading.readTag(fields, at, text));
        List<String> owners = wanted.owners() == null
                ? old.map(StandingApproval::owners).orElse(List.of())
                : each(
                        fields,
                        "/standing_approval/owners",
                        wanted.owners(),
                        (at, text) -> readPerson(fields, api, at, text));
        if (fields.faulty() || kinds.isEmpty() && tags.isEmpty() && owners.isEmpty()) return Optional.empty();
        if (api.name().equals(AdminApi.NAME)) {
            fields.fault(
                    "/standing_approval",
                    "nothing, because these scopes run Admit",
                    "a standing approval",
                    "Grant them to one client at a time.");
            return Optional.empty();
        }
        StandingApproval read = new StandingApproval(
                kinds, tags, owners, by.name(), clock.instant().truncatedTo(ChronoUnit.MILLIS));
        return old.filter(read::isFor).or(() -> Optional.of(read));
    }

    private Optional<String> readPerson(Fields fields, Api api, String at, String text) {
        Optional<String> id =
                people.named(api.issuerId(), text == null ? "" : text.strip()).map(Person::id);
        if (id.isEmpty())
            fields.fault(
                    at,
                    "the e-mail address of a person of this issuer",
                    text == null ? "nothing" : Fields.quoted(text),
                    "List them with: admit person list");
        return id;
    }

    private static <T> List<T> each(
            Fields fields, String pointer, List<String> wanted, BiFunction<String, String, Optional<T>> reading) {
        if (wanted.size() > MOST_STANDING)
            fields.fault(pointer, "at most " + MOST_STANDING, wanted.size() + " of them", "Name fewer.");
        return IntStream.range(0, Math.min(wanted.size(), MOST_STANDING))
                .boxed()
                .flatMap(i -> reading.apply(pointer + "/" + i, wanted.get(i)).stream())
                .distinct()
                .toList();
    }

    private static boolean opensTo(Scope before, Scope after) {
        boolean forMore = after.forWhom().people() && !before.forWhom().people()
                || after.forWhom().clients() && !before.forWhom().clients();
        return forMore || before.byRole() && !after.byRole();
    }

    private Optional<Scope> in(Issuer issuer, Api api, String named) {
        return scopes.named(issuer.id(), named).filter(scope -> scope.apiId().equals(api.id()));
    }

    private Optional<Scope> read(Fields fields, Api api, ScopeWanted wanted, Optional<Scope> old, Actor by) {
        String name = old.map(Scope::name).orElseGet(() -> readName(fields, api, wanted.name()));
        Optional<Effect> effect = fields.word(
                "/effect", wanted.effect(), Effect.class, old.map(Scope::effect).orElse(null));
        Optional<Reach> reach = fields.word(
                "/reach", wanted.reach(), Reach.class, old.map(Scope::reach).orElse(null));
        Optional<For> forWhom = fields.word(
                "/for", wanted.forWhom(), For.class, old.map(Scope::forWhom).orElse(null));
        if (name.isEmpty() || effect.isEmpty() || reach.isEmpty() || forWhom.isEmpty()) return Optional.empty();
        ScopeProposal proposal = ScopeProposal.from(api, name, effect.get(), reach.get(), forWhom.get());
        String consequence = fields.line(
                "/consequence",
                wanted.consequence(),
                old.map(Scope::consequence).orElse(proposal.consequence()),
                Fields.LONG_TEXT_LENGTH);
        Matcher other = PLACEHOLDER.matcher(consequence.replace(Scope.WHOSE, ""));
        if (other.find())
            fields.fault(
                    "/consequence",
                    "no other name in braces than " + Scope.WHOSE,
                    Fields.quoted(other.group()),
                    "Write {whose} where the reader is to find your, everyone's or the caller's own.");
        Optional<Approver> approver = fields.word(
                "/approver",
                wanted.approver(),
                Approver.class,
                old.map(Scope::approver).orElse(proposal.approver()));
        if (approver.filter(it -> it == Approver.PERSON).isPresent()
                && !forWhom.get().people()) {
            fields.fault(
                    "/approver",
                    "administrator, because no person is there to ask",
                    "'person'",
                    "Choose administrator.");
        }
        Optional<Status> status = fields.word(
                "/status", wanted.status(), Status.class, old.map(Scope::status).orElse(Status.IN_USE));
        Optional<Instant> closesOn = status.filter(it -> it == Status.CLOSING).isPresent()
                ? readDate(fields, wanted.closesOn(), old.flatMap(Scope::closesOn))
                : Optional.empty();
        Optional<StandingApproval> standing =
                readStanding(fields, api, wanted.standingApproval(), old.flatMap(Scope::standing), by);
        if (fields.faulty()) return Optional.empty();
        if (old.isEmpty() && wanted.consequence() == null) fields.note("The consequence was proposed: " + consequence);
        if (old.isEmpty() && wanted.approver() == null)
            fields.note("Approved by: " + approver.get() + ", as proposed.");
        boolean byRole = wanted.byRole() != null
                ? wanted.byRole()
                : old.map(Scope::byRole).orElse(false);
        boolean listed = wanted.listed() != null
                ? wanted.listed()
                : old.map(Scope::listed).orElse(true);
        return Optional.of(new Scope(
                old.map(Scope::id).orElseGet(() -> Ids.random("sc_")),
                api.issuerId(),
                api.id(),
                name,
                effect.get(),
                reach.get(),
                forWhom.get(),
                consequence,
                approver.get(),
                byRole,
                status.get(),
                closesOn,
                listed,
                standing,
                old.map(Scope::version).orElse(0L) + 1));
    }

    /**
     * Any name of RFC 6749 §3.3, so that scopes can come from elsewhere as they are; advice says where a name permits
     * more than it names.
     */
    private static String readName(Fields fields, Api api, @Nullable String value) {
        String name = value == null ? "" : value.strip();
        if (!SCOPE_TOKEN.matcher(name).matches() || name.length() > LONGEST_NAME) {
            fields.fault(
                    "/name",
                    ("1 to %d visible ASCII characters without spaces, quotes and backslashes (RFC 6749 §3.3), such "
                                    + "as tides.read")
                            .formatted(LONGEST_NAME),
                    name.isEmpty() ? "nothing" : Fields.quoted(name),
                    "Take the other characters out.");
            return "";
        }
        if (name.startsWith("-")) {
            fields.fault(
                    "/name",
                    "a name that does not begin with -, which a command line would take for an option",
                    Fields.quoted(name),
                    "Choose another name.");
            return "";
        }
        if (IdentityScopes.isOne(name)
                || name.startsWith("admit:")
                || name.startsWith("sc_")
                || AdminApi.SCOPES.contains(name) && !api.name().equals(AdminApi.NAME)) {
            fields.fault(
                    "/name",
                    "a name that Admit or OpenID Connect (Core §5.4) does not use itself",
                    Fields.quoted(name),
                    "Choose another name.");
            return "";
        }
        if (!USUAL_NAME.matcher(name).matches())
            fields.note(
                    "%s is kept as it is. Names such as <api>.<verb> are easier to read: tides.read.".formatted(name));
        String last = name.substring(
                        Math.max(Math.max(name.lastIndexOf('.'), name.lastIndexOf('/')), name.lastIndexOf(':')) + 1)
                .toLowerCase(Locale.ROOT);
        if (EVERYTHING.contains(last))
            fields.note("%s does not say what it permits. A scope for each act lets a caller hold only what it needs."
                    .formatted(name));
        return name;
    }

    private static Optional<Instant> readDate(Fields fields, @Nullable String value, Optional<Instant> old) {
        if (value == null && old.isPresent()) return old;
        try {
            if (value != null) return Optional.of(Instant.parse(value.strip()));
        } catch (DateTimeParseException notOne) {
            // told below
        }
        fields.fault(
                "/closes_on",
                "a time in UTC (RFC 3339) such as 2027-01-31T00:00:00Z, because the scope is closing",
                value == null ? "nothing" : Fields.quoted(value),
                "Say from when on it is no longer given.");
        return Optional.empty();
    }

    private Change<Scope> published(Change<Scope> change) {
        if (change instanceof Change.Made<Scope>) live.republish();
        return change;
    }

    private static Change<Scope> taken(String name) {
        return new Change.Taken<>(new FieldFault(
                "/name", "a name no scope of this issuer has", Fields.quoted(name), "Choose another name."));
    }
}
