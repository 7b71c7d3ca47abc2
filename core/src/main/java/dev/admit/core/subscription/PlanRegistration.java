package dev.admit.core.subscription;

import dev.admit.contract.PlanOperation;
import dev.admit.contract.PlanWanted;
import dev.admit.core.audit.Audit;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.Expected;
import dev.admit.core.change.FieldFault;
import dev.admit.core.change.Fields;
import dev.admit.core.change.Ids;
import dev.admit.core.change.Transactions;
import dev.admit.core.owner.Owned;
import dev.admit.core.owner.Owner;
import dev.admit.core.owner.Owners;
import dev.admit.core.plan.Plan;
import dev.admit.core.plan.Plans;
import dev.admit.core.plan.Subscription;
import dev.admit.core.plan.Subscriptions;
import dev.admit.core.plan.SubscriptionsInForce;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Apis;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.Clients;
import dev.admit.core.registry.Issuer;
import dev.admit.core.route.Limits;
import dev.admit.core.route.LimitsReading;
import dev.admit.core.route.OperationReading;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.time.format.DateTimeParseException;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.UnaryOperator;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** Offers plans, changes and removes them. */
public final class PlanRegistration {
    private static final int MOST_OPERATIONS = 200;
    private static final int MOST_NAMED = 20;
    private static final int LONGEST_DESCRIPTION = 4_000;
    private static final int LONGEST_TERMS = 40_000;
    private static final Duration LONGEST_SECRET = Duration.ofDays(3_650);
    private static final Pattern DAY = Pattern.compile("\\d{4}-\\d{2}-\\d{2}");
    private static final Duration LONGEST_KEPT = Duration.ofDays(366);

    private final Transactions transactions;
    private final Plans plans;
    private final Subscriptions subscriptions;
    private final Apis apis;
    private final Clients clients;
    private final Owners owners;
    private final Audit audit;
    private final SubscriptionsInForce inForce;
    private final Clock clock;

    public PlanRegistration(
            Transactions transactions,
            Plans plans,
            Subscriptions subscriptions,
            Apis apis,
            Clients clients,
            Owners owners,
            Audit audit,
            SubscriptionsInForce inForce,
            Clock clock) {
        this.transactions = transactions;
        this.plans = plans;
        this.subscriptions = subscriptions;
        this.apis = apis;
        this.clients = clients;
        this.owners = owners;
        this.audit = audit;
        this.inForce = inForce;
        this.clock = clock;
    }

    /** The name of an API of an issuer, by its id. */
    public UnaryOperator<String> apiNames(String issuerId) {
        return id -> apis.named(issuerId, id).map(Api::name).orElse(id);
    }

    public Change<Plan> add(Issuer issuer, PlanWanted wanted, Actor by) {
        Fields fields = new Fields();
        String name = fields.name("/name", wanted.name());
        return transactions.inOne(() -> {
            if (!name.isEmpty() && plans.named(issuer.id(), name).isPresent())
                return new Change.Taken<>(new FieldFault(
                        "/name",
                        "a name that no plan of the issuer has",
                        Fields.quoted(name),
                        "Choose another, or change the one that is there."));
            Plan.Content content = content(
                    fields, issuer, wanted, new Plan.Content(List.of(), List.of(), List.of(), Optional.empty()));
            String terms = fields.text("/terms", wanted.terms(), LONGEST_TERMS);
            Plan plan = new Plan(
                    Ids.random("plan_"),
                    issuer.id(),
                    name,
                    fields.line("/title", wanted.title(), name, Fields.TEXT_LENGTH),
                    fields.text("/description", wanted.description(), LONGEST_DESCRIPTION),
                    approval(fields, wanted, Plan.Approval.OWNER),
                    content,
                    terms.isEmpty() ? Plan.Terms.NONE : new Plan.Terms(1, terms),
                    List.of(),
                    1,
                    clock.instant());
            if (wanted.keepUntil() != null && !wanted.keepUntil().isBlank())
                fields.fault("/keep_until", "nothing", "a time", "Nobody is subscribed to a new plan: leave it out.");
            if (fields.faulty()) return new Change.Invalid<>(fields.faults());
            Optional<Change<Plan>> forbidden = forbidden(content.apiIds(), by);
            if (forbidden.isPresent()) return forbidden.get();
            plans.insert(plan);
            audit.added(by, issuer.id(), "plan.added", plan.name(), PlanSentences.said(plan, apiNames(issuer.id())));
            return new Change.Made<>(plan, fields.notes());
        });
    }

    /** @param confirm the name of the plan, said when the change touches subscriptions; null for not said */
    public Change<Plan> change(
            Issuer issuer, String named, PlanWanted wanted, Expected expected, @Nullable String confirm, Actor by) {
        Change<Plan> change = transactions.inOne(() -> {
            Optional<Plan> found = plans.named(issuer.id(), named);
            if (found.isEmpty()) return new Change.Absent<>("plan", named);
            Plan old = found.get();
            Optional<Change<Plan>> stale = expected.stale(old.version());
            if (stale.isPresent()) return stale.get();
            Fields fields = new Fields();
            if (wanted.name() != null && !wanted.name().strip().equals(old.name()))
                fields.fault("/name", "the name that it has", Fields.quoted(wanted.name()), "A plan keeps its name.");
            Plan.Content content = content(fields, issuer, wanted, old.content());
            String terms =
                    wanted.terms() == null ? old.terms().text() : fields.text("/terms", wanted.terms(), LONGEST_TERMS);
            Instant now = clock.instant();
            Optional<Instant> kept = until(fields, wanted.keepUntil(), now);
            String title = wanted.title() == null
                    ? old.title()
                    : fields.line("/title", wanted.title(), old.name(), Fields.TEXT_LENGTH);
            String description = wanted.description() == null
                    ? old.description()
                    : fields.text("/description", wanted.description(), LONGEST_DESCRIPTION);
            Plan.Approval approval = approval(fields, wanted, old.approval());
            if (fields.faulty()) return new Change.Invalid<>(fields.faults());
            Set<String> touched = new TreeSet<>(old.content().apiIds());
            touched.addAll(content.apiIds());
            Optional<Change<Plan>> forbidden = forbidden(touched, by);
            if (forbidden.isPresent()) return forbidden.get();
            boolean gives = !content.equals(old.content());
            boolean terminated = !terms.equals(old.terms().text());
            List<Subscription> live = subscriptions.liveOfPlan(old.id());
            boolean keeps = gives && kept.isPresent() && !live.isEmpty();
            Instant until = kept.orElse(now).truncatedTo(ChronoUnit.SECONDS);
            if ((gives || terminated) && !live.isEmpty() && !old.name().equals(confirm))
                return new Change.NeedsConfirmation<>(
                        old.name(),
                        "This changes what clients that are subscribed have.",
                        Stream.concat(
                                        said(old, content, terminated, issuer),
                                        touched(
                                                issuer,
                                                live,
                                                old,
                                                gives,
                                                keeps ? Optional.of(until) : Optional.empty(),
                                                now))
                                .toList());
            List<Plan.Earlier> earlier = new ArrayList<>();
            if (keeps) earlier.add(new Plan.Earlier(old.version(), old.content(), until));
            old.earlier().stream().filter(it -> now.isBefore(it.until())).forEach(earlier::add);
            Plan plan = new Plan(
                    old.id(),
                    old.issuerId(),
                    old.name(),
                    title,
                    description,
                    approval,
                    content,
                    terminated ? new Plan.Terms(old.terms().version() + 1, terms) : old.terms(),
                    List.copyOf(earlier),
                    old.version() + 1,
                    now);
            PlanWanted before = PlanSentences.said(old, apiNames(issuer.id()));
            PlanWanted after = PlanSentences.said(plan, apiNames(issuer.id()));
            if (before.equals(after)) return Change.made(old, "Nothing differs from what is there.");
            plans.update(plan);
            if (keeps) subscriptions.keepOn(plan.id(), old.version());
            audit.changed(by, issuer.id(), "plan.changed", plan.name(), before, after);
            return new Change.Made<>(plan, fields.notes());
        });
        if (change instanceof Change.Made<Plan>) inForce.republish();
        return change;
    }

    /** @param confirm the name of the plan, said when clients are subscribed to it; null for not said */
    public Change<Plan> remove(Issuer issuer, String named, Expected expected, @Nullable String confirm, Actor by) {
        Change<Plan> change = transactions.inOne(() -> {
            Optional<Plan> found = plans.named(issuer.id(), named);
            if (found.isEmpty()) return new Change.Absent<>("plan", named);
            Plan old = found.get();
            Optional<Change<Plan>> stale = expected.stale(old.version());
            if (stale.isPresent()) return stale.get();
            Optional<Change<Plan>> forbidden = forbidden(old.content().apiIds(), by);
            if (forbidden.isPresent()) return forbidden.get();
            List<Subscription> live = subscriptions.liveOfPlan(old.id());
            if (!live.isEmpty() && !old.name().equals(confirm))
                return new Change.NeedsConfirmation<>(
                        old.name(),
                        live.stream()
                                .limit(MOST_NAMED)
                                .map(it -> "The subscription of %s ends.".formatted(clientName(issuer, it)))
                                .toList());
            plans.delete(old.id());
            audit.removed(by, issuer.id(), "plan.removed", old.name(), PlanSentences.said(old, apiNames(issuer.id())));
            return Change.made(old);
        });
        if (change instanceof Change.Made<Plan>) inForce.republish();
        return change;
    }

    private Stream<String> said(Plan old, Plan.Content content, boolean terms, Issuer issuer) {
        List<String> said = new ArrayList<>(PlanSentences.differences(old.content(), content, apiNames(issuer.id())));
        if (terms) said.add("The terms are others; who accepted those before is asked for these.");
        return said.stream();
    }

    private Stream<String> touched(
            Issuer issuer, List<Subscription> live, Plan old, boolean gives, Optional<Instant> until, Instant now) {
        Stream<String> each = live.stream().limit(MOST_NAMED).map(it -> {
            Optional<Instant> has = old.earlier(it.onVersion())
                    .map(Plan.Earlier::until)
                    .filter(now::isBefore)
                    .or(() -> until);
            String name = clientName(issuer, it);
            if (!gives) return "%s goes on.".formatted(name);
            return has.isPresent()
                    ? "%s keeps what it has until %s."
                            .formatted(name, has.get().atZone(ZoneOffset.UTC).toLocalDate())
                    : "%s has it at once.".formatted(name);
        });
        return live.size() > MOST_NAMED
                ? Stream.concat(each, Stream.of("And %d more.".formatted(live.size() - MOST_NAMED)))
                : each;
    }

    private String clientName(Issuer issuer, Subscription it) {
        return clients.named(issuer.id(), it.clientId()).map(Client::name).orElse(it.clientId());
    }

    /** An owner offers what is theirs alone: a plan of others' APIs would speak for them. */
    private Optional<Change<Plan>> forbidden(Set<String> apiIds, Actor by) {
        if (!by.isOwner()) return Optional.empty();
        Set<String> theirs = owners.ofPerson(by.id()).stream()
                .map(Owner::owned)
                .filter(it -> it.kind() == Owned.Kind.API)
                .map(Owned::id)
                .collect(Collectors.toSet());
        return theirs.containsAll(apiIds)
                ? Optional.empty()
                : Optional.of(Change.Forbidden.toAllBut(
                        "operators, administrators, and the owners of all its APIs", "say what a plan covers"));
    }

    private static Plan.Approval approval(Fields fields, PlanWanted wanted, Plan.Approval otherwise) {
        return wanted.approval() == null
                ? otherwise
                : fields.word("/approval", wanted.approval(), Plan.Approval.class, otherwise)
                        .orElse(otherwise);
    }

    private Plan.Content content(Fields fields, Issuer issuer, PlanWanted wanted, Plan.Content old) {
        List<Limits.Rate> rates =
                wanted.rates() == null ? old.rates() : LimitsReading.rates(fields, "/rates", wanted.rates());
        List<Limits.Quota> quotas =
                wanted.quotas() == null ? old.quotas() : LimitsReading.quotas(fields, "/quotas", wanted.quotas());
        for (int i = 0; i < rates.size(); i++)
            byClient(fields, "/rates/" + i, rates.get(i).by());
        for (int i = 0; i < quotas.size(); i++)
            byClient(fields, "/quotas/" + i, quotas.get(i).by());
        List<Plan.Operation> operations =
                wanted.operations() == null ? old.operations() : operations(fields, issuer, wanted.operations());
        if (operations.isEmpty() && !fields.faulty())
            fields.fault("/operations", "at least one call that it covers", "none", "Name an API, methods and a path.");
        return new Plan.Content(
                operations,
                rates,
                quotas,
                wanted.secretLifetime() == null
                        ? old.secretLifetime()
                        : fields.durationOrNone("/secret_lifetime", wanted.secretLifetime(), LONGEST_SECRET));
    }

    /** A length of time from now, or a day that begins in UTC. */
    private static Optional<Instant> until(Fields fields, @Nullable String said, Instant now) {
        if (said == null || said.isBlank()) return Optional.empty();
        String pointer = "/keep_until";
        if (!DAY.matcher(said.strip()).matches())
            return fields.durationOrNone(pointer, said, LONGEST_KEPT).map(now::plus);
        try {
            Instant day =
                    LocalDate.parse(said.strip()).atStartOfDay(ZoneOffset.UTC).toInstant();
            if (day.isAfter(now) && day.isBefore(now.plus(LONGEST_KEPT))) return Optional.of(day);
        } catch (DateTimeParseException none) {
            // told below
        }
        fields.fault(
                pointer,
                "a day within the next %d, or a time such as 30d".formatted(LONGEST_KEPT.toDays()),
                Fields.quoted(said),
                "Choose a day that is still to come.");
        return Optional.empty();
    }

    private static void byClient(Fields fields, String pointer, Limits.By by) {
        if (by != Limits.By.CLIENT)
            fields.fault(pointer, "a limit by client: a subscription is a client's", "by " + by, "Write by client.");
    }

    private List<Plan.Operation> operations(Fields fields, Issuer issuer, List<PlanOperation> wanted) {
        if (wanted.size() > MOST_OPERATIONS)
            fields.fault(
                    "/operations", "at most " + MOST_OPERATIONS, wanted.size() + " of them", "Use /** at the end.");
        List<Plan.Operation> all = new ArrayList<>();
        for (int i = 0; i < wanted.size(); i++) {
            String at = "/operations/" + i;
            @Nullable PlanOperation it = wanted.get(i); // as everything that was sent, it may lack members
            String name = it == null || it.api() == null ? "" : it.api().strip();
            Optional<Api> api = apis.named(issuer.id(), name);
            if (api.isEmpty())
                fields.fault(
                        at + "/api",
                        "an API of this issuer",
                        name.isEmpty() ? "nothing" : Fields.quoted(name),
                        "Name one that is there.");
            var methods = OperationReading.methods(fields, at + "/methods", it == null ? null : it.methods());
            var path = OperationReading.path(fields, at + "/path", it == null ? null : it.path());
            if (api.isPresent() && path.isPresent())
                all.add(new Plan.Operation(api.get().id(), methods, path.get()));
        }
        return List.copyOf(all);
    }
}
