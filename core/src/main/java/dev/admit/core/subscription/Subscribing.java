package dev.admit.core.subscription;

import dev.admit.contract.SubscriptionWanted;
import dev.admit.core.audit.Audit;
import dev.admit.core.catalogue.Publication;
import dev.admit.core.catalogue.Publications;
import dev.admit.core.catalogue.Reader;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.Expected;
import dev.admit.core.change.FieldFault;
import dev.admit.core.change.Fields;
import dev.admit.core.change.Ids;
import dev.admit.core.change.Transactions;
import dev.admit.core.decision.Command;
import dev.admit.core.owner.Owned;
import dev.admit.core.owner.Owner;
import dev.admit.core.owner.Owners;
import dev.admit.core.plan.Plan;
import dev.admit.core.plan.Plans;
import dev.admit.core.plan.Subscription;
import dev.admit.core.plan.Subscription.Status;
import dev.admit.core.plan.Subscriptions;
import dev.admit.core.plan.SubscriptionsInForce;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.Clients;
import dev.admit.core.registry.Issuer;
import java.time.Clock;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/** Requests subscriptions, approves, declines, pauses, resumes and ends them, and moves them to another plan. */
public final class Subscribing {
    private static final int MOST_OF_CLIENT = 50;

    private final Transactions transactions;
    private final Plans plans;
    private final Subscriptions subscriptions;
    private final Publications publications;
    private final Clients clients;
    private final Owners owners;
    private final Audit audit;
    private final SubscriptionsInForce inForce;
    private final Clock clock;

    public Subscribing(
            Transactions transactions,
            Plans plans,
            Subscriptions subscriptions,
            Publications publications,
            Clients clients,
            Owners owners,
            Audit audit,
            SubscriptionsInForce inForce,
            Clock clock) {
        this.transactions = transactions;
        this.plans = plans;
        this.subscriptions = subscriptions;
        this.publications = publications;
        this.clients = clients;
        this.owners = owners;
        this.audit = audit;
        this.inForce = inForce;
        this.clock = clock;
    }

    /**
     * Whether a person finds a plan: each of its APIs is theirs, or published for them.
     *
     * @param reader who looks at an API that they do not own
     */
    public boolean finds(Plan plan, Reader reader, Optional<String> personId) {
        Set<String> apiIds = plan.content().apiIds();
        return !apiIds.isEmpty()
                && apiIds.stream()
                        .allMatch(apiId -> publications
                                        .of(apiId)
                                        .orElseGet(() -> Publication.none(apiId))
                                        .isFor(reader)
                                || personId.filter(it -> ownsApi(it, apiId)).isPresent());
    }

    private boolean ownsApi(String personId, String apiId) {
        return owners.ofPerson(personId).stream()
                .map(Owner::owned)
                .anyMatch(it -> it.kind() == Owned.Kind.API && it.id().equals(apiId));
    }

    /** What has no admin role finds no more than in the catalogue. */
    private Optional<Plan> found(Issuer issuer, @Nullable String named, Actor by) {
        boolean limited = by.isOwner() || by.power() == Actor.Power.THEMSELVES;
        return plans.named(issuer.id(), named == null ? "" : named.strip())
                .filter(it -> !limited || finds(it, new Reader.SignedIn(by.id()), Optional.of(by.id())));
    }

    /** A client wants a part in a plan; it begins at once where nobody has to approve it. */
    public Change<Subscription> request(Issuer issuer, Client client, SubscriptionWanted wanted, Actor by) {
        Change<Subscription> change = transactions.inOne(() -> {
            Optional<Plan> found = found(issuer, wanted.plan(), by);
            if (found.isEmpty()) return new Change.Absent<>("plan", wanted.plan() == null ? "" : wanted.plan());
            Plan plan = found.get();
            List<Subscription> its = subscriptions.ofClient(client.id());
            if (its.stream().anyMatch(it -> it.status().isLive() && it.planId().equals(plan.id())))
                return new Change.Taken<>(new FieldFault(
                        "/plan",
                        "a plan that the client is not subscribed to",
                        Fields.quoted(plan.name()),
                        "See how it stands: " + Command.of("subscription", "list", "--client", client.name())));
            if (its.stream().filter(it -> it.status().isLive()).count() >= MOST_OF_CLIENT)
                return new Change.Refused<>(
                        "A client has at most %d subscriptions.".formatted(MOST_OF_CLIENT), "End one first.");
            Subscription.Act act = act(by);
            Accepting accepting = Accepting.read(plan, wanted.acceptTerms(), act);
            if (accepting.fault().isPresent())
                return Change.invalid(accepting.fault().get());
            Subscription it = new Subscription(
                    Ids.timeOrdered("sub_", act.at().toEpochMilli()),
                    issuer.id(),
                    client.id(),
                    plan.id(),
                    beginsAtOnce(client.id(), plan) ? Status.ACTIVE : Status.WAITING,
                    "",
                    accepting.accepted(),
                    Optional.empty(),
                    Optional.empty(),
                    false,
                    act,
                    Optional.empty(),
                    1);
            subscriptions.insert(it);
            audit.added(by, issuer.id(), "subscription.requested", on(client, plan), it);
            return Change.made(it);
        });
        inForce(change);
        return change;
    }

    /** @param fault why they are not */
    private record Accepting(Optional<Subscription.Accepted> accepted, Optional<FieldFault> fault) {
        static Accepting read(Plan plan, @Nullable Long said, Subscription.Act act) {
            if (!plan.terms().wantAcceptance()) return new Accepting(Optional.empty(), Optional.empty());
            long version = plan.terms().version();
            if (said != null && said == version)
                return new Accepting(
                        Optional.of(new Subscription.Accepted(version, act.by(), act.at())), Optional.empty());
            return new Accepting(
                    Optional.empty(),
                    Optional.of(new FieldFault(
                            "/accept_terms",
                            "the version of the terms of %s, which is %d".formatted(plan.name(), version),
                            said == null ? "nothing" : String.valueOf(said),
                            "Read them with: " + Command.of("plan", "show", plan.name()))));
        }
    }

    /** Whoever was sent away does not come back by asking anew. */
    private boolean beginsAtOnce(String clientId, Plan plan) {
        return plan.approval() == Plan.Approval.AUTOMATIC
                && subscriptions.ofClient(clientId).stream()
                        .filter(it -> it.planId().equals(plan.id()))
                        .findFirst()
                        .filter(Subscription::barred)
                        .isEmpty();
    }

    /**
     * The one who approves says yes: to the subscription, or to its move to another plan.
     *
     * @param planNamed the plan that is meant: the client may have chosen another since it was looked at
     */
    public Change<Subscription> approve(
            Issuer issuer, String id, @Nullable String planNamed, Actor by, Expected expected) {
        return decide(issuer, id, by, expected, "approved", it -> {
            String wanted = it.moving().map(Subscription.Moving::planId).orElse(it.planId());
            Plan plan = plans.find(wanted).orElseThrow();
            String said = planNamed == null ? "" : planNamed.strip();
            if (!said.equals(plan.name()) && !said.equals(plan.id()))
                return Change.invalid(new FieldFault(
                        "/plan",
                        "the plan that is wanted, which is " + plan.name(),
                        said.isEmpty() ? "nothing" : Fields.quoted(said),
                        "Look at the plan, and name it: " + Command.of("plan", "show", plan.name())));
            if (it.moving().isPresent()) {
                Subscription.Moving to = it.moving().get();
                if (isSubscribed(it, to.planId()))
                    return new Change.Refused<>("The client has a subscription to that plan.", "End one of them.");
                return Change.made(
                        it.moved(to.planId(), to.accepted(), true).decided(it.status(), it.reason(), act(by)));
            }
            if (it.status() == Status.DECLINED && isSubscribed(it, it.planId()))
                return new Change.Refused<>("The client has a subscription to that plan.", "End one of them.");
            return whenIn(it, EnumSet.of(Status.WAITING, Status.DECLINED), "approved", Status.ACTIVE, "", by);
        });
    }

    /** The one who approves says no: to the subscription, or to its move to another plan. */
    public Change<Subscription> decline(
            Issuer issuer, String id, @Nullable String reason, Actor by, Expected expected) {
        return because(
                issuer,
                id,
                reason,
                by,
                expected,
                "declined",
                (it, why) -> it.moving().isPresent()
                        ? Change.made(it.staying().decided(it.status(), why, act(by)))
                        : whenIn(it.barring(), EnumSet.of(Status.WAITING), "declined", Status.DECLINED, why, by));
    }

    /** Nothing passes by it until it is resumed. */
    public Change<Subscription> pause(Issuer issuer, String id, @Nullable String reason, Actor by, Expected expected) {
        return because(
                issuer,
                id,
                reason,
                by,
                expected,
                "paused",
                (it, why) -> whenIn(it, EnumSet.of(Status.ACTIVE), "paused", Status.PAUSED, why, by));
    }

    public Change<Subscription> resume(Issuer issuer, String id, Actor by, Expected expected) {
        return decide(
                issuer,
                id,
                by,
                expected,
                "resumed",
                it -> whenIn(it, EnumSet.of(Status.PAUSED), "resumed", Status.ACTIVE, "", by));
    }

    /** For good: the client may request it anew. */
    public Change<Subscription> end(Issuer issuer, String id, @Nullable String reason, Actor by, Expected expected) {
        return decide(issuer, id, by, expected, "ended", it -> {
            Fields fields = new Fields();
            String why = fields.line("/reason", reason, "", Fields.TEXT_LENGTH);
            if (fields.faulty()) return new Change.Invalid<>(fields.faults());
            boolean own = ownsClient(by, it.clientId()) && it.status() != Status.PAUSED;
            Subscription over = it.moving().isPresent() ? it.staying() : it;
            return whenIn(
                    own ? over : over.barring(),
                    EnumSet.of(Status.WAITING, Status.ACTIVE, Status.PAUSED),
                    "ended",
                    Status.ENDED,
                    why,
                    by);
        });
    }

    /**
     * To another plan, at once where nobody has to approve that; until then it stays. What was used goes on counting.
     */
    public Change<Subscription> move(Issuer issuer, String id, SubscriptionWanted wanted, Actor by, Expected expected) {
        return decide(issuer, id, by, expected, "moved", it -> {
            Optional<Plan> found = found(issuer, wanted.plan(), by);
            if (found.isEmpty()) return new Change.Absent<>("plan", wanted.plan() == null ? "" : wanted.plan());
            Plan plan = found.get();
            if (it.status() != Status.ACTIVE && it.status() != Status.WAITING) return notSo(it, "moved");
            if (plan.id().equals(it.planId()) && it.moving().isPresent()) return Change.made(it.staying());
            if (plan.id().equals(it.planId()) || isSubscribed(it, plan.id()))
                return new Change.Refused<>(
                        "The client has a subscription to that plan.", "Name another plan, or end one of them.");
            Accepting accepting = Accepting.read(plan, wanted.acceptTerms(), act(by));
            if (accepting.fault().isPresent())
                return Change.invalid(accepting.fault().get());
            boolean atOnce = beginsAtOnce(it.clientId(), plan) || it.status() == Status.WAITING;
            // One that nobody approved yet waits for the other plan in place of the first.
            boolean begins = it.status() == Status.WAITING && beginsAtOnce(it.clientId(), plan);
            Subscription moved = it.moved(plan.id(), accepting.accepted(), atOnce);
            return Change.made(begins ? moved.decided(Status.ACTIVE, "", act(by)) : moved);
        });
    }

    /** The terms that are there now, after they changed. */
    public Change<Subscription> acceptTerms(
            Issuer issuer, String id, @Nullable Long version, Actor by, Expected expected) {
        return decide(issuer, id, by, expected, "terms-accepted", it -> {
            if (!it.status().isLive()) return notSo(it, "asked");
            Plan plan = plans.find(it.planId()).orElseThrow();
            Accepting accepting = Accepting.read(plan, version, act(by));
            if (accepting.fault().isPresent())
                return Change.invalid(accepting.fault().get());
            return accepting.accepted().isPresent()
                    ? Change.made(it.accepting(accepting.accepted().get()))
                    : new Change.Refused<>("The plan has no terms.", "Nothing has to be done.");
        });
    }

    private boolean ownsClient(Actor by, String clientId) {
        return owners.ofPerson(by.id()).stream()
                .map(Owner::owned)
                .anyMatch(it -> it.kind() == Owned.Kind.CLIENT && it.id().equals(clientId));
    }

    private boolean isSubscribed(Subscription it, String planId) {
        return subscriptions.ofClient(it.clientId()).stream()
                .anyMatch(other -> !other.id().equals(it.id())
                        && other.status().isLive()
                        && other.planId().equals(planId));
    }

    private interface Because {
        Change<Subscription> of(Subscription it, String why);
    }

    /** A no wants a reason, which the other side reads. */
    private Change<Subscription> because(
            Issuer issuer,
            String id,
            @Nullable String reason,
            Actor by,
            Expected expected,
            String what,
            Because because) {
        return decide(issuer, id, by, expected, what, it -> {
            Fields fields = new Fields();
            String why = fields.line("/reason", reason, null, Fields.TEXT_LENGTH);
            return fields.faulty() ? new Change.Invalid<>(fields.faults()) : because.of(it, why);
        });
    }

    private Change<Subscription> decide(
            Issuer issuer,
            String id,
            Actor by,
            Expected expected,
            String what,
            Function<Subscription, Change<Subscription>> with) {
        Change<Subscription> change = transactions.inOne(() -> {
            Optional<Subscription> old = subscriptions.find(issuer.id(), id);
            if (old.isEmpty()) return new Change.Absent<>("subscription", id);
            Optional<Change<Subscription>> stale = expected.stale(old.get().version());
            if (stale.isPresent()) return stale.get();
            Change<Subscription> outcome = with.apply(old.get());
            if (outcome instanceof Change.Made<Subscription>(Subscription now, List<String> notes)) {
                subscriptions.update(now);
                audit.changed(by, issuer.id(), "subscription." + what, on(issuer, now), old.get(), now);
            }
            return outcome;
        });
        inForce(change);
        return change;
    }

    private void inForce(Change<Subscription> change) {
        if (change instanceof Change.Made<Subscription>(Subscription it, List<String> notes))
            inForce.refresh(it.clientId());
    }

    private Change<Subscription> whenIn(
            Subscription it, Set<Status> from, String what, Status now, String why, Actor by) {
        return from.contains(it.status()) ? Change.made(it.decided(now, why, act(by))) : notSo(it, what);
    }

    private static Change<Subscription> notSo(Subscription it, String what) {
        return new Change.Refused<>(
                "A subscription that is %s cannot be %s.".formatted(it.status(), what),
                "See how it stands: admit subscription list");
    }

    private Subscription.Act act(Actor by) {
        return new Subscription.Act(by.name(), clock.instant());
    }

    private Optional<Client> client(Issuer issuer, Subscription it) {
        return clients.named(issuer.id(), it.clientId());
    }

    private String on(Issuer issuer, Subscription it) {
        return "%s to %s"
                .formatted(
                        client(issuer, it).map(Client::name).orElse(it.clientId()),
                        plans.find(it.planId()).map(Plan::name).orElse(it.planId()));
    }

    private static String on(Client client, Plan plan) {
        return "%s to %s".formatted(client.name(), plan.name());
    }
}
