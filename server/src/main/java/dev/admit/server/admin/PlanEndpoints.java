package dev.admit.server.admin;

import dev.admit.contract.Changed;
import dev.admit.contract.PageView;
import dev.admit.contract.PlanView;
import dev.admit.contract.PlanWanted;
import dev.admit.contract.Preview;
import dev.admit.core.access.AdminRole;
import dev.admit.core.access.Permission;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.Transactions;
import dev.admit.core.plan.Plan;
import dev.admit.core.plan.Plans;
import dev.admit.core.plan.Subscription;
import dev.admit.core.plan.Subscriptions;
import dev.admit.core.registry.Issuer;
import dev.admit.core.subscription.PlanRegistration;
import dev.admit.core.subscription.PlanSentences;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.function.UnaryOperator;
import org.springframework.http.HttpStatus;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PatchMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestAttribute;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Plans, which clients subscribe to. */
@RestController
@RequestMapping("/admin/issuers/{issuer}/plans")
class PlanEndpoints {
    private final Plans plans;
    private final Subscriptions subscriptions;
    private final PlanRegistration registration;
    private final Transactions transactions;
    private final Lookup lookup;
    private final Clock clock;

    PlanEndpoints(
            Plans plans,
            Subscriptions subscriptions,
            PlanRegistration registration,
            Transactions transactions,
            Lookup lookup,
            Clock clock) {
        this.plans = plans;
        this.subscriptions = subscriptions;
        this.registration = registration;
        this.transactions = transactions;
        this.lookup = lookup;
        this.clock = clock;
    }

    /** The plans of an issuer, by name; to an owner, those that cover an API of theirs. */
    @Permitted(value = AdminRole.AUDITOR, owner = Permission.OwnerOf.ANYTHING)
    @GetMapping
    PageView<PlanView> list(
            @PathVariable String issuer,
            @RequestParam(required = false) Integer limit,
            @RequestParam(required = false) String after,
            @RequestAttribute(name = AdminDoor.OWNED_BY, required = false) String ownedBy) {
        Issuer its = lookup.issuer(issuer);
        return Answers.page(
                plans.list(its.id(), Optional.ofNullable(ownedBy), Answers.ask(limit, after)), it -> view(its, it));
    }

    /** A plan, with what it was for subscriptions that keep that for a while. */
    @Permitted(value = AdminRole.AUDITOR, owner = Permission.OwnerOf.PLAN_PART)
    @GetMapping("/{plan}")
    ResponseEntity<PlanView> show(@PathVariable String issuer, @PathVariable String plan) {
        Issuer its = lookup.issuer(issuer);
        Plan found = plans.named(its.id(), plan).orElseThrow(Lookup.absent("plan", plan));
        return Answers.found(view(its, found), found.version());
    }

    /** Offers a plan; an owner, of APIs that are all theirs. */
    @ResponseStatus(HttpStatus.CREATED)
    @Permitted(value = AdminRole.OPERATOR, owner = Permission.OwnerOf.ANYTHING)
    @PostMapping
    ResponseEntity<Changed<PlanView>> add(
            @PathVariable String issuer,
            @RequestBody PlanWanted wanted,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer its = lookup.issuer(issuer);
        return Answers.created(
                registration.add(its, wanted, actor),
                Plan::version,
                it -> "/admin/issuers/%s/plans/%s".formatted(its.name(), it.name()),
                (it, notes) -> new Changed<>(view(its, it), notes));
    }

    /** What a plan would give, without offering it. */
    @Permitted(value = AdminRole.OPERATOR, owner = Permission.OwnerOf.ANYTHING)
    @PostMapping("/preview")
    ResponseEntity<Preview> preview(
            @PathVariable String issuer,
            @RequestBody PlanWanted wanted,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer its = lookup.issuer(issuer);
        Change<Plan> would = transactions.rehearse(() -> registration.add(its, wanted, actor));
        return Answers.shown(would, it -> new Preview(PlanSentences.of(it, names(its)), List.of()));
    }

    /**
     * Changes a plan; what is null stays.
     *
     * @param confirm the plan's name, said when the change touches clients that are subscribed
     */
    @Permitted(value = AdminRole.OPERATOR, owner = Permission.OwnerOf.PLAN)
    @PatchMapping("/{plan}")
    ResponseEntity<Changed<PlanView>> change(
            @PathVariable String issuer,
            @PathVariable String plan,
            @RequestBody PlanWanted wanted,
            @RequestParam(required = false) String confirm,
            @RequestHeader(name = "If-Match", required = false) String ifMatch,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer its = lookup.issuer(issuer);
        return Answers.changed(
                registration.change(its, plan, wanted, Answers.required(ifMatch), confirm, actor),
                Plan::version,
                (it, notes) -> new Changed<>(view(its, it), notes));
    }

    /**
     * Removes a plan, with the subscriptions to it.
     *
     * @param confirm the plan's name, said when clients are subscribed
     */
    @Permitted(value = AdminRole.OPERATOR, owner = Permission.OwnerOf.PLAN)
    @DeleteMapping("/{plan}")
    ResponseEntity<Void> remove(
            @PathVariable String issuer,
            @PathVariable String plan,
            @RequestParam(required = false) String confirm,
            @RequestHeader(name = "If-Match", required = false) String ifMatch,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        return Answers.removed(
                registration.remove(lookup.issuer(issuer), plan, Answers.optional(ifMatch), confirm, actor));
    }

    private UnaryOperator<String> names(Issuer issuer) {
        return registration.apiNames(issuer.id());
    }

    private PlanView view(Issuer issuer, Plan it) {
        PlanWanted said = PlanSentences.said(it, names(issuer));
        List<Subscription> live = subscriptions.liveOfPlan(it.id());
        int waiting = (int) live.stream()
                .filter(one -> one.status() == Subscription.Status.WAITING)
                .count();
        Instant now = clock.instant();
        return new PlanView(
                it.id(),
                it.name(),
                it.title(),
                it.description(),
                List.copyOf(said.operations()),
                List.copyOf(said.rates()),
                List.copyOf(said.quotas()),
                it.approval().toString(),
                said.secretLifetime(),
                it.terms().text(),
                it.terms().version(),
                live.size() - waiting,
                waiting,
                it.earlier().stream()
                        .filter(was -> now.isBefore(was.until()))
                        .map(was -> new PlanView.Earlier(
                                was.version(),
                                was.until(),
                                (int) live.stream()
                                        .filter(one -> one.onVersion()
                                                .filter(on -> on == was.version())
                                                .isPresent())
                                        .count(),
                                PlanSentences.of(was.content(), names(issuer))))
                        .toList(),
                PlanSentences.of(it, names(issuer)),
                it.version(),
                it.changedAt());
    }
}
