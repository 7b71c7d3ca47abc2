package dev.admit.core.approval;

import dev.admit.core.audit.Audit;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.Expected;
import dev.admit.core.change.FieldFault;
import dev.admit.core.change.Fields;
import dev.admit.core.change.Ids;
import dev.admit.core.change.Transactions;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.Role;
import dev.admit.core.registry.Roles;
import dev.admit.core.registry.Scope;
import dev.admit.core.registry.Scopes;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/** Requests for scopes, and the answers to them. Nothing is granted by asking, but what was approved ahead. */
public final class Approving {
    private static final int MOST_GRANTED = 100;
    private final Transactions transactions;
    private final Scopes scopes;
    private final Roles roles;
    private final Approvals approvals;
    private final PersonalApprovals personal;
    private final AdminClients adminClients;
    private final Withdrawal withdrawal;
    private final Audit audit;
    private final Function<Client, List<String>> ownersOf;
    private final Consumer<String> forgetClient;
    private final Clock clock;

    /** @param ownersOf the ids of the people who answer for a client */
    public Approving(
            Transactions transactions,
            Scopes scopes,
            Roles roles,
            Approvals approvals,
            PersonalApprovals personal,
            AdminClients adminClients,
            Withdrawal withdrawal,
            Audit audit,
            Function<Client, List<String>> ownersOf,
            Consumer<String> forgetClient,
            Clock clock) {
        this.transactions = transactions;
        this.scopes = scopes;
        this.roles = roles;
        this.approvals = approvals;
        this.personal = personal;
        this.adminClients = adminClients;
        this.withdrawal = withdrawal;
        this.audit = audit;
        this.ownersOf = ownersOf;
        this.forgetClient = forgetClient;
        this.clock = clock;
    }

    /**
     * Notes that a client wants a scope. Asked again after a no, it waits again; asked twice, nothing changes. A
     * standing approval answers at once.
     */
    public Change<Approval> request(Client client, @Nullable String scopeName, Actor by) {
        return request(client, scopeName == null ? "" : scopeName, true, by);
    }

    /**
     * As above, but it waits for a person, whatever standing approval there is: what a setup file says of a request
     * that waited.
     */
    public Change<Approval> requestToWait(Client client, String scopeName, Actor by) {
        return request(client, scopeName, false, by);
    }

    private Change<Approval> request(Client client, String scopeName, boolean answered, Actor by) {
        return remembered(client, transactions.inOne(() -> {
            Optional<FieldFault> fault = faultOf(client, scopeName, "/scope");
            if (fault.isPresent()) return Change.invalid(fault.get());
            Optional<Change<Approval>> refusal =
                    adminClients.refusal(client, List.of(scopeName.strip()), "request a scope for this client", by);
            if (refusal.isPresent()) return refusal.get();
            Scope scope = scopes.named(client.issuerId(), scopeName.strip()).orElseThrow();
            Optional<Approval> before = approvals.of(client.id(), scope.id());
            if (before.isPresent()) return askAgain(client, before.get(), clock.instant(), by);
            return Change.made(answered ? note(client, scopeName, by) : waiting(client, scope, 2, by));
        }));
    }

    /** Requests every scope of a role. What the role stands for later is requested then. */
    public Change<List<Approval>> requestRole(Client client, @Nullable String roleName, Actor by) {
        Change<List<Approval>> change = transactions.inOne(() -> {
            Optional<Role> role = roles.named(client.issuerId(), roleName == null ? "" : roleName.strip());
            if (role.isEmpty()) {
                return Change.invalid(new FieldFault(
                        "/role",
                        "the name of a role of this issuer",
                        roleName == null ? "nothing" : Fields.quoted(roleName),
                        "List them with: admit role list"));
            }
            Optional<Change<List<Approval>>> refusal = adminClients.refusal(
                    client, List.copyOf(role.get().scopes()), "request a role for this client", by);
            if (refusal.isPresent()) return refusal.get();
            List<Approval> asked = new ArrayList<>();
            for (String scope : role.get().scopes()) {
                Optional<FieldFault> fault = faultOf(client, scope, "/role");
                if (fault.isPresent()) return Change.invalid(fault.get());
                Optional<Approval> before = approvals.of(
                        client.id(),
                        scopes.named(client.issuerId(), scope).orElseThrow().id());
                if (before.isEmpty()) asked.add(note(client, scope, by));
                else if (askAgain(client, before.get(), clock.instant(), by) instanceof Change.Made<Approval> again)
                    asked.add(again.value());
            }
            return Change.made(asked);
        });
        if (change instanceof Change.Made<List<Approval>>) forgetClient.accept(client.id());
        return change;
    }

    /**
     * Scope names, those of roles replaced by what they stand for. An unknown one stays, for {@link #faultOf} to tell.
     */
    public List<String> spelledOut(String issuerId, List<String> names) {
        LinkedHashSet<String> all = new LinkedHashSet<>();
        for (String name : names) {
            String stripped = name == null ? "" : name.strip();
            Optional<Role> role =
                    scopes.named(issuerId, stripped).isPresent() ? Optional.empty() : roles.named(issuerId, stripped);
            if (role.isPresent()) all.addAll(role.get().scopes());
            else all.add(stripped);
        }
        return List.copyOf(all);
    }

    /**
     * Why a client cannot request this; empty when it can.
     *
     * @param pointer where the scope stands in the request
     */
    public Optional<FieldFault> faultOf(Client client, String scopeName, String pointer) {
        Optional<Scope> found = scopes.named(client.issuerId(), scopeName == null ? "" : scopeName.strip());
        if (found.isEmpty()) {
            return Optional.of(new FieldFault(
                    pointer,
                    "the name of a scope of this issuer",
                    scopeName == null ? "nothing" : Fields.quoted(scopeName),
                    "List them with: admit scope list"));
        }
        if (!client.kind().forPeople() && !found.get().forWhom().clients()) {
            return Optional.of(new FieldFault(
                    pointer,
                    "a scope for clients on their own",
                    found.get().name() + ", which is for people",
                    "A client of kind %s acts for nobody; request a scope for clients.".formatted(client.kind())));
        }
        if (client.kind().forPeople() && !found.get().forWhom().people() && !client.mayUse("client_credentials")) {
            return Optional.of(new FieldFault(
                    pointer,
                    "a scope for people",
                    found.get().name() + ", which is for clients on their own",
                    "A client of kind %s acts for people; request a scope for people.".formatted(client.kind())));
        }
        return Optional.empty();
    }

    /**
     * Writes a first ask, in the transaction of the caller, who has looked for faults; a standing approval of the scope
     * answers it.
     */
    public Approval note(Client client, String scopeName, Actor by) {
        Scope scope = scopes.named(client.issuerId(), scopeName.strip()).orElseThrow();
        Approval waiting = waiting(client, scope, 1, by);
        return answeredAhead(client, scope, waiting).orElse(waiting);
    }

    private Optional<Approval> answeredAhead(Client client, Scope scope, Approval waiting) {
        return scope.standing()
                .filter(it -> it.fits(client, ownersOf.apply(client)))
                .map(standing -> {
                    Approval granted = waiting.grantedByStanding(clock.instant(), standing.setBy());
                    approvals.update(granted);
                    audit.changed(
                            Actor.ADMIT,
                            client.issuerId(),
                            "approval.granted-ahead",
                            on(client, granted),
                            waiting,
                            granted);
                    return granted;
                });
    }

    /**
     * Why a person who is no administrator may not put a tag on a client: clients with it have a scope as soon as they
     * request it.
     */
    public <T> Optional<Change<T>> refusalOfTags(String issuerId, List<String> before, List<String> after, Actor by) {
        if (by.isAdministrator()) return Optional.empty();
        for (Scope scope : scopes.withStanding(issuerId)) {
            for (String tag : after) {
                if (!before.contains(tag)
                        && scope.standing()
                                .filter(it -> it.tags().contains(tag))
                                .isPresent()) {
                    return Optional.of(Change.Forbidden.toAllBut(
                            "administrators",
                            "put the tag %s on a client, because a standing approval of %s goes by it"
                                    .formatted(tag, scope.name())));
                }
            }
        }
        return Optional.empty();
    }

    /** @param version 1 for one that a standing approval may answer, 2 for one of which a person said that it waits */
    private Approval waiting(Client client, Scope scope, long version, Actor by) {
        Approval waiting = new Approval(
                Ids.random("ap_"),
                client.issuerId(),
                client.id(),
                scope.id(),
                scope.name(),
                Approval.Status.WAITING,
                clock.instant(),
                by.name(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                "",
                false,
                false,
                version);
        approvals.insert(waiting);
        audit.added(by, client.issuerId(), "approval.asked", on(client, waiting), waiting);
        return waiting;
    }

    private Change<Approval> askAgain(Client client, Approval before, Instant now, Actor by) {
        return switch (before.statusAt(now)) {
            case WAITING ->
                scopes.named(before.issuerId(), before.scopeName())
                        .filter(scope -> !before.wasAnswered())
                        .flatMap(scope -> answeredAhead(client, scope, before))
                        .map(Change::made)
                        .orElseGet(() -> hadAsked(before));
            case GRANTED -> hadAsked(before);
            case DECLINED, WITHDRAWN, EXPIRED -> {
                Approval again = before.askedAgain(now, by.name());
                approvals.update(again);
                audit.changed(by, client.issuerId(), "approval.asked", on(client, again), before, again);
                yield Change.made(again);
            }
        };
    }

    private static Change<Approval> hadAsked(Approval before) {
        return Change.made(before, "It had requested " + before.scopeName() + " before.");
    }

    /**
     * An administrator grants scopes to a client in one step, whether or not the client has requested them.
     *
     * @param names of scopes, or of roles, which stand for their scopes
     * @param until empty for as long as no administrator withdraws them
     */
    public Change<List<Approval>> grant(Client client, List<String> names, Optional<Instant> until, Actor by) {
        if (!by.isAdministrator())
            return Change.Forbidden.toAllBut("administrators", "grant a scope that was not requested");
        List<String> all = spelledOut(client.issuerId(), names);
        if (all.isEmpty() || all.size() > MOST_GRANTED) {
            return Change.invalid(new FieldFault(
                    "/scopes",
                    "1 to %d scopes, or a role".formatted(MOST_GRANTED),
                    all.size() + " scopes",
                    "Name the scopes that the client is to have."));
        }
        Change<List<Approval>> change = transactions.inOne(() -> {
            List<Approval> granted = new ArrayList<>();
            for (int i = 0; i < all.size(); i++) {
                Optional<FieldFault> fault = faultOf(client, all.get(i), "/scopes/" + i);
                if (fault.isPresent()) return Change.invalid(fault.get());
                Scope scope = scopes.named(client.issuerId(), all.get(i)).orElseThrow();
                Approval asked = approvals.of(client.id(), scope.id()).orElseGet(() -> note(client, scope.name(), by));
                switch (grant(client, asked, until, by, Expected.ANY)) {
                    case Change.Made<Approval> made -> granted.add(made.value());
                    case Change<Approval> other -> {
                        return other.map(List::of);
                    }
                }
            }
            return Change.made(List.copyOf(granted));
        });
        if (change instanceof Change.Made<List<Approval>>) forgetClient.accept(client.id());
        return change;
    }

    /**
     * An administrator, or an owner of the API, says yes, for everyone.
     *
     * @param until empty for as long as nobody withdraws it
     */
    public Change<Approval> grant(Client client, Approval asked, Optional<Instant> until, Actor by, Expected expected) {
        if (!by.isAdministrator() && !by.isOwner()) return answering();
        return remembered(client, transactions.inOne(() -> {
            Optional<Approval> found = approvals.find(asked.issuerId(), asked.id());
            if (found.isEmpty()) return new Change.Absent<>("approval", asked.id());
            Approval approval = found.get();
            Optional<Change<Approval>> stale = expected.stale(approval.version());
            if (stale.isPresent()) return stale.get();
            if (approval.lastWord() && !by.isAdministrator()) return lastWord(client, approval);
            Instant now = clock.instant();
            if (until.filter(end -> !end.isAfter(now)).isPresent()) {
                return Change.invalid(new FieldFault(
                        "/until", "a time ahead", until.get().toString(), "Choose a later time, or none."));
            }
            if (approval.isGrantedAt(now) && approval.expiresAt().equals(until)) {
                return Change.made(approval, approval.scopeName() + " was granted before.");
            }
            Approval granted = approval.granted(now, by.name(), until);
            approvals.update(granted);
            audit.changed(by, client.issuerId(), "approval.granted", on(client, granted), approval, granted);
            return Change.made(granted);
        }));
    }

    /**
     * An administrator, or an owner of the API, says no to what waits. After an administrator only an administrator can
     * say yes.
     */
    public Change<Approval> decline(Client client, Approval asked, @Nullable String why, Actor by, Expected expected) {
        return end(
                client,
                asked,
                Approval.Status.DECLINED,
                List.of(Approval.Status.WAITING),
                why,
                by,
                expected,
                "Only what waits can be declined; withdraw what was granted.");
    }

    /**
     * An administrator, or an owner of the API, takes a yes back; tokens that lean on it are refused from the next
     * request on.
     */
    public Change<Approval> withdraw(Client client, Approval asked, @Nullable String why, Actor by, Expected expected) {
        return end(
                client,
                asked,
                Approval.Status.WITHDRAWN,
                List.of(Approval.Status.GRANTED),
                why,
                by,
                expected,
                "Only what was granted can be withdrawn; decline what waits.");
    }

    private Change<Approval> end(
            Client client,
            Approval asked,
            Approval.Status how,
            List<Approval.Status> from,
            @Nullable String why,
            Actor by,
            Expected expected,
            String fix) {
        if (!by.isAdministrator() && !by.isOwner()) return answering();
        Fields fields = new Fields();
        String reason = fields.line("/reason", why, "", Fields.LONG_TEXT_LENGTH);
        if (fields.faulty()) return new Change.Invalid<>(fields.faults());
        return withdrawal.revoking(revoke -> {
            Optional<Approval> found = approvals.find(asked.issuerId(), asked.id());
            if (found.isEmpty()) return new Change.Absent<>("approval", asked.id());
            Approval approval = found.get();
            Optional<Change<Approval>> stale = expected.stale(approval.version());
            if (stale.isPresent()) return stale.get();
            Instant now = clock.instant();
            if (!from.contains(approval.statusAt(now))) {
                return new Change.Refused<>(
                        "The approval of %s is %s.".formatted(approval.scopeName(), approval.statusAt(now)), fix);
            }
            // What people approved for themselves ends with it, and is not kept: after a yes, each is asked anew.
            revoke.approval(approval);
            personal.deleteOfClient(approval.clientId(), approval.scopeName());
            Approval ended = approval.ended(how, now, by, reason);
            approvals.update(ended);
            audit.changed(by, client.issuerId(), "approval." + how, on(client, ended), approval, ended);
            return Change.made(ended);
        });
    }

    /** Takes a request off a client, with its answer; tokens that lean on it end. */
    public Change<Approval> drop(Client client, Approval asked, Actor by) {
        return withdrawal.revoking(revoke -> {
            Optional<Approval> found = approvals.find(asked.issuerId(), asked.id());
            if (found.isEmpty()) return new Change.Absent<>("approval", asked.id());
            if (found.get().lastWord() && !by.isAdministrator()) return lastWord(client, found.get());
            Optional<Change<Approval>> refusal = adminClients.refusal(client, "take a request off this client", by);
            if (refusal.isPresent()) return refusal.get();
            if (!by.isAdministrator() && wouldBeForgotten(found.get())) {
                return new Change.Refused<>(
                        ("A person answered the request of %s for %s, and a standing approval of the scope may answer "
                                        + "the next one otherwise.")
                                .formatted(client.name(), found.get().scopeName()),
                        "Ask an administrator.");
            }
            revoke.approval(found.get());
            personal.deleteOfClient(found.get().clientId(), found.get().scopeName());
            approvals.delete(asked.id());
            audit.removed(by, client.issuerId(), "approval.dropped", on(client, found.get()), found.get());
            return Change.made(found.get());
        });
    }

    /** Whether an answer of a person would go, and a standing approval be asked, whom it fits at this moment or not. */
    private boolean wouldBeForgotten(Approval approval) {
        return approval.wasAnswered()
                && scopes.named(approval.issuerId(), approval.scopeName())
                        .flatMap(Scope::standing)
                        .isPresent();
    }

    private static Change<Approval> answering() {
        return Change.Forbidden.toAllBut("administrators and owners of the API", "answer what clients request");
    }

    private static Change<Approval> lastWord(Client client, Approval approval) {
        return new Change.Refused<>(
                "An administrator said no to %s for %s, and keeps the last word."
                        .formatted(approval.scopeName(), client.name()),
                "Ask an administrator.");
    }

    private static String on(Client client, Approval approval) {
        return client.name() + " " + approval.scopeName();
    }

    private Change<Approval> remembered(Client client, Change<Approval> change) {
        if (change instanceof Change.Made<Approval>) forgetClient.accept(client.id());
        return change;
    }
}
