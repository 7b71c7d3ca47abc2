package dev.admit.core.gate;

import dev.admit.core.configuration.GuardedRoute;
import dev.admit.core.decision.Action;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Checked;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import dev.admit.core.plan.Plan;
import dev.admit.core.plan.Subscription;
import dev.admit.core.plan.SubscriptionsInForce;
import dev.admit.core.plan.SubscriptionsInForce.Held;
import dev.admit.core.registry.Api;
import dev.admit.core.route.RequestPath;
import dev.admit.core.route.Route;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;

/** The stage that wants the client to be subscribed to a plan that covers the request. */
final class CheckSubscription {
    private static final String CHECK = "subscription";
    private final SubscriptionsInForce inForce;

    CheckSubscription(SubscriptionsInForce inForce) {
        this.inForce = inForce;
    }

    /**
     * By which a request passes.
     *
     * @param content what it gives now
     */
    record Found(String subscriptionId, Plan.Content content) {}

    static boolean isWanted(GuardedRoute route) {
        return route.route().guard() instanceof Route.Guard.Token token
                && token.who().subscription();
    }

    /** @return empty where the route wants none */
    Checked<Optional<Found>> of(
            GuardedRoute route, String clientId, GateRequest request, RequestPath path, Instant at) {
        if (!isWanted(route)) return NOT_WANTED;
        Api api = route.api().orElseThrow();
        List<Held> its = inForce.of(clientId);
        for (Held it : its) {
            if (!it.isActive()) continue;
            Plan.Content content = it.contentAt(at);
            if (content.covers(api.id(), request.method(), request.host(), path.segments()))
                return Checked.passed(
                        Optional.of(new Found(it.subscription().id(), content)),
                        CheckResult.passed(CHECK, EXPECTED, it.plan().name()));
        }
        return Checked.refused(refused(its, api, clientId, request, path, at));
    }

    private static final String EXPECTED = "a subscription of the client that covers the request";

    private static CheckResult.Refused refused(
            List<Held> its, Api api, String clientId, GateRequest request, RequestPath path, Instant at) {
        for (Held it : its) {
            if (it.isActive() || !it.contentAt(at).covers(api.id(), request.method(), request.host(), path.segments()))
                continue;
            boolean waits = it.subscription().status() == Subscription.Status.WAITING;
            return CheckResult.refused(
                    CHECK,
                    waits ? Reason.SUBSCRIPTION_WAITING : Reason.SUBSCRIPTION_PAUSED,
                    EXPECTED,
                    "%s, which %s".formatted(it.plan().name(), waits ? "waits for approval" : "is paused"),
                    waits
                            ? Fix.of(
                                            "Have the subscription approved.",
                                            Action.of(
                                                    "subscription",
                                                    "approve",
                                                    clientId,
                                                    it.plan().name()))
                                    .by("an owner of one of its APIs")
                            : Fix.of(
                                            "Have the subscription resumed.",
                                            Action.of(
                                                    "subscription",
                                                    "resume",
                                                    clientId,
                                                    it.plan().name()))
                                    .by("an owner of one of its APIs"));
        }
        String has =
                its.stream().filter(Held::isActive).map(it -> it.plan().name()).collect(Collectors.joining(", "));
        return CheckResult.refused(
                CHECK,
                Reason.NO_SUBSCRIPTION,
                EXPECTED,
                has.isEmpty() ? "none" : has + ", which does not cover it",
                Fix.of(
                        "Subscribe the client to a plan that covers %s %s.".formatted(request.method(), path.encoded()),
                        Action.of("subscription", "add", clientId, "PLAN")));
    }

    private static final Checked<Optional<Found>> NOT_WANTED = Checked.passed(Optional.empty());
}
