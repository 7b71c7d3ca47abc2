package dev.admit.core.gate;

import dev.admit.core.browser.SignInAtGate;
import dev.admit.core.change.Fields;
import dev.admit.core.configuration.BrowserOrigins;
import dev.admit.core.configuration.Configuration;
import dev.admit.core.configuration.GuardedRoute;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Reason;
import dev.admit.core.decision.Recorder;
import dev.admit.core.limit.Counters;
import dev.admit.core.limit.Quotas;
import dev.admit.core.plan.SubscriptionUse;
import dev.admit.core.plan.SubscriptionsInForce;
import dev.admit.core.route.RequestCondition;
import dev.admit.core.route.RequestPath;
import dev.admit.core.token.BearerDoor;
import dev.admit.core.token.VerifiedToken;
import java.time.Instant;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Supplier;

/**
 * The line of a gateway request, from path to verdict, on one snapshot of the configuration. Its stages, in this order:
 * path, page, route, headers, credentials, the bearer token through the {@link BearerDoor}, body, the route's
 * condition, the client's subscription, rates and quotas, room among the requests under way. Nothing is forwarded or
 * answered before the last.
 */
public final class Gate {
    private static final CheckResult OPEN = new CheckResult.Skipped("bearer", "the route is open");

    private final Supplier<Configuration> configuration;
    private final BearerDoor door;
    private final FindRoute find;
    private final FindCredentials credentials;
    private final CheckSubscription subscription;
    private final CheckLimits limits;

    /** @param mostBody bytes; a larger body is refused whatever a route says */
    public Gate(
            Supplier<Configuration> configuration,
            BearerDoor door,
            BrowserOrigins origins,
            SignInAtGate signIn,
            Counters counters,
            Quotas quotas,
            SubscriptionsInForce subscriptions,
            SubscriptionUse use,
            long mostBody) {
        this.configuration = configuration;
        this.door = door;
        this.find = new FindRoute(origins);
        this.credentials = new FindCredentials(signIn);
        this.limits = new CheckLimits(counters, quotas, use, mostBody);
        this.subscription = new CheckSubscription(subscriptions);
    }

    /** @param decision gets every check; its clock is read once, by the one who made it */
    public GateOutcome decide(GateRequest request, Recorder decision) {
        Configuration now = configuration.get();
        RequestPath path = decision.take(FindRoute.path(request.rawPath()));
        if (path == null) {
            decision.request(request.method(), Fields.quoted(request.rawPath()), request.from());
            return refused(Set.of(), decision);
        }
        decision.request(request.method(), path.encoded(), request.from());
        Optional<GuardedRoute> askedAbout = FindRoute.askedAbout(request, path, now);
        if (askedAbout.isPresent()) return answerPage(request.page().orElseThrow(), askedAbout.get(), decision);
        return switch (FindRoute.route(request, path, now)) {
            case FindRoute.Routed.Nowhere(CheckResult.Refused check, Set<String> allowed) -> {
                now.routes()
                        .oneAt(request.host())
                        .ifPresent(it -> decision.issuer(it.issuer().issuer().name()));
                decision.add(check);
                yield refused(allowed, decision);
            }
            case FindRoute.Routed.To(GuardedRoute route, CheckResult check) -> {
                on(route, decision).add(check);
                yield decide(request, path, route, decision);
            }
        };
    }

    private GateOutcome answerPage(GateRequest.FromPage page, GuardedRoute route, Recorder decision) {
        return on(route, decision).passes(find.page(page, route))
                ? new GateOutcome.PageMay(route, page.preflight().orElseThrow())
                : refused(route, decision);
    }

    private static Recorder on(GuardedRoute route, Recorder decision) {
        return decision.route(route.label(), route.issuer().issuer().revision())
                .issuer(route.issuer().issuer().name());
    }

    /** What is left once the route is known. */
    private GateOutcome decide(GateRequest request, RequestPath path, GuardedRoute route, Recorder decision) {
        if (decision.take(CheckLimits.headers(request, route)) == null) return refused(route, decision);
        if (route.api().isEmpty()) {
            decision.add(OPEN);
            return decide(request, path, route, Optional.empty(), Optional.empty(), decision);
        }
        decision.api(route.api().get().name());
        FindCredentials.Credentials found = decision.take(credentials.of(request, route, decision.at()));
        if (found == null) return decision.isWaiting() ? waits(decision) : refusedOrSignIn(request, route, decision);
        Optional<VerifiedToken> token = door.pass(found.authorization(), request.query(), route.ways(), decision);
        if (decision.isWaiting()) return waits(decision);
        GateOutcome outcome = token.isPresent()
                ? decide(request, path, route, token, found.renewed(), decision)
                : refusedAnyway(request, path, route, decision);
        boolean over = outcome instanceof GateOutcome.Refused refused
                && refused.refusal().reason().status() == 401
                && found.canSignInAgain(decision.at());
        return over ? toSignIn(request, route, decision) : outcome;
    }

    /** What is left once the caller is known: the request as a whole, and how much passes. */
    private GateOutcome decide(
            GateRequest request,
            RequestPath path,
            GuardedRoute route,
            Optional<VerifiedToken> token,
            Optional<String> renewed,
            Recorder decision) {
        GuardedRoute.Prepared prepared = route.prepared();
        if (decision.take(limits.body(request, route)) == null) return refused(route, decision);
        Map<String, String> named =
                prepared.looksAtPath() ? route.route().pattern().namesIn(path.segments()) : Map.of();
        if (prepared.condition().isPresent()) {
            RequestCondition.Met met =
                    meets(prepared.condition().get(), token.orElseThrow(), named, request, decision.at());
            if (!decision.passes(met.result())) {
                decision.done(met.inside());
                return refusedAnyway(request, path, route, decision);
            }
        }
        Optional<CheckSubscription.Found> subscribed = decision.take(
                subscription.of(route, token.map(VerifiedToken::clientId).orElse(""), request, path, decision.at()));
        if (subscribed == null) return refused(route, decision);
        CheckLimits.Counted counted = limits.count(request, route, token, subscribed, decision.at());
        for (CheckResult check : counted.checks()) {
            if (!decision.passes(check)) return refused(route, decision).telling(counted.telling());
        }
        String forwarded = prepared.rewrite()
                .map(it -> it.on(named, route.route().pattern().restOf(path.segments())))
                .orElse(path.encoded());
        Map<String, Object> values =
                prepared.fillsIn() ? values(route, named, request, token, decision.id()) : Map.of();
        Runnable over = decision.take(limits.room(route));
        if (over == null) return refused(route, decision).telling(counted.telling());
        if (prepared.rewrite().isPresent()) decision.done("the path became " + forwarded);
        return new GateOutcome.Admitted(route, forwarded, token, values, counted.telling(), renewed, over);
    }

    /** What else would refuse it is told with it, so that it is mended once. */
    private GateOutcome.Refused refusedAnyway(
            GateRequest request, RequestPath path, GuardedRoute route, Recorder decision) {
        if (CheckSubscription.isWanted(route) && !decision.clientId().isEmpty())
            decision.also(subscription.of(route, decision.clientId(), request, path, decision.at()));
        return refused(route, decision);
    }

    private static RequestCondition.Met meets(
            RequestCondition condition,
            VerifiedToken token,
            Map<String, String> named,
            GateRequest request,
            Instant at) {
        return condition.on(token, named, request.method(), request.headers().get(), at);
    }

    /** Whether the answer may be read by the page that calls. */
    public boolean mayCall(GateRequest.FromPage page, GuardedRoute route) {
        return find.mayCall(page, route);
    }

    private static GateOutcome refusedOrSignIn(GateRequest request, GuardedRoute route, Recorder decision) {
        return decision.refusal().orElseThrow().reason() == Reason.SIGN_IN_NEEDED
                ? toSignIn(request, route, decision)
                : refused(route, decision);
    }

    /** To the issuer where a person opens a page; the one who calls by script is told. */
    private static GateOutcome toSignIn(GateRequest request, GuardedRoute route, Recorder decision) {
        GateOutcome.Refused refused = refused(route, decision);
        return request.browser().opensAPage() ? new GateOutcome.SignIn(route, refused) : refused;
    }

    private static GateOutcome waits(Recorder decision) {
        return new GateOutcome.Waits(decision.awaited().orElseThrow());
    }

    private static GateOutcome.Refused refused(GuardedRoute route, Recorder decision) {
        return new GateOutcome.Refused(decision.refusal().orElseThrow(), Optional.of(route), Set.of());
    }

    private static GateOutcome refused(Set<String> allowed, Recorder decision) {
        return new GateOutcome.Refused(decision.refusal().orElseThrow(), Optional.empty(), allowed);
    }

    private static Map<String, Object> values(
            GuardedRoute route,
            Map<String, String> named,
            GateRequest request,
            Optional<VerifiedToken> token,
            String decision) {
        return Map.of(
                "decision",
                decision,
                "route",
                route.label(),
                "method",
                request.method(),
                "path",
                named,
                "claims",
                token.map(VerifiedToken::claims).orElse(Map.of()));
    }
}
