package dev.admit.server.admin;

import dev.admit.contract.Changed;
import dev.admit.contract.PageView;
import dev.admit.contract.SubscriptionAnswer;
import dev.admit.contract.SubscriptionView;
import dev.admit.contract.SubscriptionWanted;
import dev.admit.contract.UsageView;
import dev.admit.core.access.AdminRole;
import dev.admit.core.access.Permission;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.FieldFault;
import dev.admit.core.change.Fields;
import dev.admit.core.plan.Plan;
import dev.admit.core.plan.Plans;
import dev.admit.core.plan.Subscription;
import dev.admit.core.plan.Subscriptions;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.Clients;
import dev.admit.core.registry.Issuer;
import dev.admit.core.subscription.ReadUsage;
import dev.admit.core.subscription.Subscribing;
import dev.admit.core.subscription.SubscriptionSentences;
import dev.admit.core.subscription.TellSubscribers;
import java.time.Clock;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.springframework.http.HttpStatus;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestAttribute;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Subscriptions of clients to plans. */
@RestController
@RequestMapping("/admin/issuers/{issuer}")
class SubscriptionEndpoints {
    private final Subscriptions subscriptions;
    private final Plans plans;
    private final Clients clients;
    private final Subscribing subscribing;
    private final TellSubscribers tell;
    private final ReadUsage usage;
    private final Lookup lookup;
    private final Clock clock;

    SubscriptionEndpoints(
            Subscriptions subscriptions,
            Plans plans,
            Clients clients,
            Subscribing subscribing,
            TellSubscribers tell,
            ReadUsage usage,
            Lookup lookup,
            Clock clock) {
        this.subscriptions = subscriptions;
        this.plans = plans;
        this.clients = clients;
        this.subscribing = subscribing;
        this.tell = tell;
        this.usage = usage;
        this.lookup = lookup;
        this.clock = clock;
    }

    /** Subscriptions, the newest first; to an owner, those of their clients, and to plans that cover APIs of theirs. */
    @Permitted(value = AdminRole.AUDITOR, owner = Permission.OwnerOf.ANYTHING)
    @GetMapping("/subscriptions")
    PageView<SubscriptionView> list(
            @PathVariable String issuer,
            @RequestParam(required = false) String client,
            @RequestParam(required = false) String plan,
            @RequestParam(required = false) String status,
            @RequestParam(required = false) Integer limit,
            @RequestParam(required = false) String after,
            @RequestAttribute(name = AdminDoor.OWNED_BY, required = false) String ownedBy) {
        Issuer its = lookup.issuer(issuer);
        Subscriptions.Wanted wanted = new Subscriptions.Wanted(
                Optional.ofNullable(client)
                        .map(it -> clients.named(its.id(), it).map(Client::id).orElse("none")),
                Optional.ofNullable(plan)
                        .map(it -> plans.named(its.id(), it).map(Plan::id).orElse("none")),
                status(status),
                Optional.ofNullable(ownedBy));
        return Answers.page(subscriptions.list(its.id(), wanted, Answers.ask(limit, after)), it -> view(its, it));
    }

    private static Optional<Subscription.Status> status(@Nullable String said) {
        if (said == null || said.isBlank()) return Optional.empty();
        return Optional.of(Arrays.stream(Subscription.Status.values())
                .filter(it -> it.toString().equals(said.strip()))
                .findFirst()
                .orElseThrow(() -> new Answers.Refused(Answers.invalid(List.of(new FieldFault(
                        "/status",
                        "one of " + Arrays.toString(Subscription.Status.values()),
                        Fields.quoted(said),
                        "Choose one of them, or leave it out."))))));
    }

    @Permitted(value = AdminRole.AUDITOR, owner = Permission.OwnerOf.SUBSCRIPTION)
    @GetMapping("/subscriptions/{subscription}")
    ResponseEntity<SubscriptionView> show(@PathVariable String issuer, @PathVariable String subscription) {
        Issuer its = lookup.issuer(issuer);
        Subscription found = found(its, subscription);
        return Answers.found(view(its, found), found.version());
    }

    /** What a subscription used: of its quotas, and on each of the last 30 days. */
    @Permitted(value = AdminRole.AUDITOR, owner = Permission.OwnerOf.SUBSCRIPTION)
    @GetMapping("/subscriptions/{subscription}/usage")
    UsageView usage(@PathVariable String issuer, @PathVariable String subscription) {
        return usage.of(found(lookup.issuer(issuer), subscription));
    }

    /** A client requests a part in a plan; it begins at once where nobody has to approve it. */
    @ResponseStatus(HttpStatus.CREATED)
    @Permitted(value = AdminRole.OPERATOR, owner = Permission.OwnerOf.CLIENT)
    @PostMapping("/clients/{client}/subscriptions")
    ResponseEntity<Changed<SubscriptionView>> request(
            @PathVariable String issuer,
            @PathVariable String client,
            @RequestBody SubscriptionWanted wanted,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer its = lookup.issuer(issuer);
        Change<Subscription> change = subscribing.request(its, lookup.client(its, client), wanted, actor);
        if (change instanceof Change.Made<Subscription> made) tell.that(its, made.value(), actor);
        return Answers.created(
                change,
                Subscription::version,
                it -> "/admin/issuers/%s/subscriptions/%s".formatted(its.name(), it.id()),
                (it, notes) -> new Changed<>(view(its, it), notes));
    }

    /** Approves a subscription, or its move to another plan. */
    @Permitted(value = AdminRole.OPERATOR, owner = Permission.OwnerOf.SUBSCRIPTION_REQUEST)
    @PostMapping("/subscriptions/{subscription}/approve")
    ResponseEntity<Changed<SubscriptionView>> approve(
            @PathVariable String issuer,
            @PathVariable String subscription,
            @RequestBody SubscriptionAnswer answer,
            @RequestHeader(name = "If-Match", required = false) String ifMatch,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer its = lookup.issuer(issuer);
        return told(
                its, subscribing.approve(its, subscription, answer.plan(), actor, Answers.optional(ifMatch)), actor);
    }

    /** Declines a subscription, or its move to another plan; the reason is told. */
    @Permitted(value = AdminRole.OPERATOR, owner = Permission.OwnerOf.SUBSCRIPTION_REQUEST)
    @PostMapping("/subscriptions/{subscription}/decline")
    ResponseEntity<Changed<SubscriptionView>> decline(
            @PathVariable String issuer,
            @PathVariable String subscription,
            @RequestBody SubscriptionAnswer answer,
            @RequestHeader(name = "If-Match", required = false) String ifMatch,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer its = lookup.issuer(issuer);
        return told(
                its, subscribing.decline(its, subscription, answer.reason(), actor, Answers.optional(ifMatch)), actor);
    }

    /** Nothing passes by it from the next request on, until it is resumed. */
    @Permitted(value = AdminRole.OPERATOR, owner = Permission.OwnerOf.SUBSCRIPTION_PLAN)
    @PostMapping("/subscriptions/{subscription}/pause")
    ResponseEntity<Changed<SubscriptionView>> pause(
            @PathVariable String issuer,
            @PathVariable String subscription,
            @RequestBody SubscriptionAnswer answer,
            @RequestHeader(name = "If-Match", required = false) String ifMatch,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer its = lookup.issuer(issuer);
        return told(
                its, subscribing.pause(its, subscription, answer.reason(), actor, Answers.optional(ifMatch)), actor);
    }

    @Permitted(value = AdminRole.OPERATOR, owner = Permission.OwnerOf.SUBSCRIPTION_PLAN)
    @PostMapping("/subscriptions/{subscription}/resume")
    ResponseEntity<Changed<SubscriptionView>> resume(
            @PathVariable String issuer,
            @PathVariable String subscription,
            @RequestHeader(name = "If-Match", required = false) String ifMatch,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer its = lookup.issuer(issuer);
        return told(its, subscribing.resume(its, subscription, actor, Answers.optional(ifMatch)), actor);
    }

    /** Ends it for good; the client may request it anew. */
    @Permitted(value = AdminRole.OPERATOR, owner = Permission.OwnerOf.SUBSCRIPTION)
    @PostMapping("/subscriptions/{subscription}/end")
    ResponseEntity<Changed<SubscriptionView>> end(
            @PathVariable String issuer,
            @PathVariable String subscription,
            @RequestBody SubscriptionAnswer answer,
            @RequestHeader(name = "If-Match", required = false) String ifMatch,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer its = lookup.issuer(issuer);
        return told(its, subscribing.end(its, subscription, answer.reason(), actor, Answers.optional(ifMatch)), actor);
    }

    /** To another plan: at once, or once that is approved; naming the plan that it is on takes a wish to move back. */
    @Permitted(value = AdminRole.OPERATOR, owner = Permission.OwnerOf.SUBSCRIPTION_CLIENT)
    @PostMapping("/subscriptions/{subscription}/move")
    ResponseEntity<Changed<SubscriptionView>> move(
            @PathVariable String issuer,
            @PathVariable String subscription,
            @RequestBody SubscriptionWanted wanted,
            @RequestHeader(name = "If-Match", required = false) String ifMatch,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer its = lookup.issuer(issuer);
        return told(its, subscribing.move(its, subscription, wanted, actor, Answers.optional(ifMatch)), actor);
    }

    /** Accepts the terms that are there now, after they changed. */
    @Permitted(value = AdminRole.OPERATOR, owner = Permission.OwnerOf.SUBSCRIPTION_CLIENT)
    @PostMapping("/subscriptions/{subscription}/accept-terms")
    ResponseEntity<Changed<SubscriptionView>> acceptTerms(
            @PathVariable String issuer,
            @PathVariable String subscription,
            @RequestBody SubscriptionWanted wanted,
            @RequestHeader(name = "If-Match", required = false) String ifMatch,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer its = lookup.issuer(issuer);
        return changed(
                its,
                subscribing.acceptTerms(its, subscription, wanted.acceptTerms(), actor, Answers.optional(ifMatch)));
    }

    private Subscription found(Issuer issuer, String id) {
        return subscriptions.find(issuer.id(), id).orElseThrow(Lookup.absent("subscription", id));
    }

    private ResponseEntity<Changed<SubscriptionView>> told(Issuer issuer, Change<Subscription> change, Actor by) {
        if (change instanceof Change.Made<Subscription> made) tell.that(issuer, made.value(), by);
        return changed(issuer, change);
    }

    private ResponseEntity<Changed<SubscriptionView>> changed(Issuer issuer, Change<Subscription> change) {
        return Answers.changed(change, Subscription::version, (it, notes) -> new Changed<>(view(issuer, it), notes));
    }

    private SubscriptionView view(Issuer issuer, Subscription it) {
        Optional<Plan> plan = plans.find(it.planId());
        String movingTo = it.moving()
                .flatMap(to -> plans.find(to.planId()))
                .map(Plan::name)
                .orElse(null);
        return new SubscriptionView(
                it.id(),
                clients.named(issuer.id(), it.clientId()).map(Client::name).orElse(it.clientId()),
                plan.map(Plan::name).orElse(it.planId()),
                it.status().toString(),
                it.reason(),
                movingTo,
                it.accepted().map(Subscription.Accepted::terms).orElse(null),
                it.accepted().map(Subscription.Accepted::by).orElse(null),
                it.accepted().map(Subscription.Accepted::at).orElse(null),
                plan.flatMap(its -> its.earlier(it.onVersion()))
                        .map(Plan.Earlier::until)
                        .filter(clock.instant()::isBefore)
                        .orElse(null),
                it.requested().by(),
                it.requested().at(),
                it.decided().map(Subscription.Act::by).orElse(null),
                it.decided().map(Subscription.Act::at).orElse(null),
                plan.map(its -> SubscriptionSentences.of(it, its, movingTo, clock.instant()))
                        .orElse(""),
                it.version());
    }
}
