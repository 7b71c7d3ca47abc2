package dev.admit.core.gate;

import dev.admit.core.browser.BrowserSession;
import dev.admit.core.browser.SignInAtGate;
import dev.admit.core.change.Fields;
import dev.admit.core.configuration.BrowserOrigins;
import dev.admit.core.configuration.Configuration;
import dev.admit.core.configuration.GuardedRoute;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Decision;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import dev.admit.core.limit.Count;
import dev.admit.core.limit.Counters;
import dev.admit.core.limit.Quotas;
import dev.admit.core.route.Limits;
import dev.admit.core.route.RequestCondition;
import dev.admit.core.route.RequestPath;
import dev.admit.core.route.Route;
import dev.admit.core.route.RouteTable.Match;
import dev.admit.core.token.BearerDoor;
import dev.admit.core.token.VerifiedToken;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.function.Supplier;

/**
 * A gateway request from path to verdict, on one snapshot of the configuration: path, route, then the bearer token
 * through the {@link BearerDoor}, then the route's condition and its limits.
 */
public final class Gate {
    private final Supplier<Configuration> configuration;
    private final BearerDoor door;
    private final BrowserOrigins origins;
    private static final Set<String> SAFE = Set.of("GET", "HEAD", "OPTIONS");
    private final SignInAtGate signIn;
    private final Counters counters;
    private final Quotas quotas;
    private final long mostBody;

    /** @param mostBody bytes; a larger body is refused whatever a route says */
    public Gate(
            Supplier<Configuration> configuration,
            BearerDoor door,
            BrowserOrigins origins,
            SignInAtGate signIn,
            Counters counters,
            Quotas quotas,
            long mostBody) {
        this.configuration = configuration;
        this.door = door;
        this.origins = origins;
        this.signIn = signIn;
        this.counters = counters;
        this.quotas = quotas;
        this.mostBody = mostBody;
    }

    /** @param decision gets every check; its clock is read once, by the one who made it */
    public GateOutcome decide(GateRequest request, Decision.Builder decision) {
        Configuration now = configuration.get();
        RequestPath path;
        switch (RequestPath.read(request.rawPath())) {
            case RequestPath.Reading.Unsafe(String received) -> {
                return unsafe(request, received, decision);
            }
            case RequestPath.Reading.Good(RequestPath good) -> path = good;
        }
        decision.request(request.method(), path.encoded(), request.from());
        if (request.page().isPresent() && request.page().get().preflight().isPresent()) {
            Optional<GateOutcome> answered = preflight(request, now, path, decision);
            if (answered.isPresent()) return answered.get();
        }
        if (now.isReserved(path.segments())) return reserved(decision);
        GuardedRoute route;
        switch (now.routes().match(request.method(), request.host(), path.segments())) {
            case Match.Nothing<GuardedRoute> nothing -> {
                return noRoute(ofIssuerAt(request, now, decision));
            }
            case Match.OtherMethod<GuardedRoute>(Set<String> allowed) -> {
                return otherMethod(request.method(), allowed, ofIssuerAt(request, now, decision));
            }
            case Match.Found<GuardedRoute>(GuardedRoute found) -> route = found;
        }
        decision.route(route.label(), route.issuer().issuer().revision())
                .issuer(route.issuer().issuer().name());
        decision.add(CheckResult.passed("route", "a route for this method and path", route.label()));
        if (route.route().limits().headers().isPresent()
                && decision.add(headers(
                                request.headerBytes().getAsInt(),
                                route.route().limits().headers().get()))
                        instanceof CheckResult.Refused) return refused(route, decision);
        if (route.api().isEmpty()) {
            decision.add(OPEN);
            return pass(request, route, path, Optional.empty(), Optional.empty(), decision);
        }
        decision.api(route.api().get().name());
        return checkToken(request, route, path, decision);
    }

    /**
     * A browser requests a page, without a token (Fetch §4.8). Empty where the route does not know pages: then it is a
     * request as any other.
     */
    private Optional<GateOutcome> preflight(
            GateRequest request, Configuration now, RequestPath path, Decision.Builder decision) {
        GateRequest.FromPage page = request.page().orElseThrow();
        String method = page.preflight().orElseThrow();
        if (!(now.routes().match(method, request.host(), path.segments())
                        instanceof Match.Found<GuardedRoute>(GuardedRoute route))
                || !route.route().cors()) return Optional.empty();
        decision.route(route.label(), route.issuer().issuer().revision())
                .issuer(route.issuer().issuer().name());
        if (!mayCall(page, route)) {
            decision.add(CheckResult.refused(
                    "page",
                    Reason.ORIGIN_NOT_REGISTERED,
                    "a page of a browser client of this issuer",
                    Fields.quoted(page.origin()),
                    Fix.of("Have the origin added to the client that the page is of.")
                            .by("an operator")));
            return Optional.of(new GateOutcome.Refused(decision.refusal().orElseThrow(), Optional.of(route), Set.of()));
        }
        decision.add(CheckResult.passed("page", "a page of a browser client of this issuer", page.origin()));
        return Optional.of(new GateOutcome.PageMay(route, method));
    }

    /** Whether the answer may be read by the page that calls. */
    public boolean mayCall(GateRequest.FromPage page, GuardedRoute route) {
        return route.route().cors() && origins.allows(route.issuer().issuer().id(), page.origin());
    }

    private static CheckResult headers(int bytes, int most) {
        String expected = "at most %d bytes of headers".formatted(most);
        return bytes <= most
                ? CheckResult.passed("headers", expected, bytes + " bytes")
                : CheckResult.refused(
                        "headers",
                        Reason.HEADERS_TOO_LARGE,
                        expected,
                        bytes + " bytes",
                        Fix.of("Send fewer or shorter headers; or have the limit raised on the route."));
    }

    private GateOutcome checkToken(
            GateRequest request, GuardedRoute route, RequestPath path, Decision.Builder decision) {
        boolean signsIn = route.signsIn() && request.authorization().isEmpty();
        return signsIn
                ? bySession(request, route, path, decision)
                : byToken(request.authorization(), request, route, path, Optional.empty(), decision);
    }

    private GateOutcome byToken(
            List<String> authorization,
            GateRequest request,
            GuardedRoute route,
            RequestPath path,
            Optional<String> renewed,
            Decision.Builder decision) {
        Optional<VerifiedToken> token = door.pass(authorization, request.query(), route.ways(), decision);
        if (decision.awaited().isPresent())
            return new GateOutcome.Waits(decision.awaited().get());
        return token.isPresent() ? pass(request, route, path, token, renewed, decision) : refused(route, decision);
    }

    /** A browser, by what it keeps sealed for the gateway. */
    private GateOutcome bySession(
            GateRequest request, GuardedRoute route, RequestPath path, Decision.Builder decision) {
        String name = SignInAtGate.sessionCookie(
                ((Route.Guard.Token) route.route().guard()).who().signIn().orElseThrow(),
                route.api().orElseThrow().id(),
                request.browser().isSecure());
        String cookie = request.browser().cookie(name);
        // A cookie goes along with whatever any page has sent, so what changes something must come from this very
        // origin.
        if (cookie != null
                && !SAFE.contains(request.method())
                && request.browser().comesFromElsewhere()) {
            decision.add(CheckResult.refused(
                    "session",
                    Reason.FROM_ANOTHER_SITE,
                    "a request by a page of this address",
                    "one by a page of another",
                    Fix.of("Open the page at this address, and send it from there.")));
            return refused(route, decision);
        }
        return switch (signIn.standing(route, cookie, decision.at(), request.from())) {
            case SignInAtGate.Standing.Renewing(var stage) -> new GateOutcome.Waits(stage);
            case SignInAtGate.Standing.None none -> {
                decision.add(CheckResult.refused(
                        "session",
                        Reason.SIGN_IN_NEEDED,
                        "a person who is signed in",
                        cookie == null ? "nobody" : "a session that is over",
                        Fix.of("Open the page in a browser, and sign in.")));
                yield toSignIn(request, route, decision);
            }
            case SignInAtGate.Standing.Good(BrowserSession session, Optional<String> renewed) -> {
                decision.add(CheckResult.passed(
                        "session",
                        "a person who is signed in",
                        renewed.isPresent() ? "one, whose token was renewed" : "one"));
                GateOutcome outcome =
                        byToken(List.of(session.authorization()), request, route, path, renewed, decision);
                boolean over = outcome instanceof GateOutcome.Refused refused
                        && refused.refusal().reason().status() == 401
                        && !session.isFresh(decision.at());
                yield over ? toSignIn(request, route, decision) : outcome;
            }
        };
    }

    /** To the issuer where a person opens a page; the one who calls by script is told. */
    private static GateOutcome toSignIn(GateRequest request, GuardedRoute route, Decision.Builder decision) {
        GateOutcome.Refused refused =
                new GateOutcome.Refused(decision.refusal().orElseThrow(), Optional.of(route), Set.of());
        return request.browser().opensAPage() ? new GateOutcome.SignIn(route, refused) : refused;
    }

    /** What is left after the token: how large it is, the route's condition on the whole request, how much passes. */
    private GateOutcome pass(
            GateRequest request,
            GuardedRoute route,
            RequestPath path,
            Optional<VerifiedToken> token,
            Optional<String> renewed,
            Decision.Builder decision) {
        GuardedRoute.Prepared prepared = route.prepared();
        long largest = route.route().limits().mostBody(mostBody);
        long bytes = request.bodyBytes().getAsLong();
        if (bytes > largest) {
            decision.add(bodyTooLarge(bytes, largest));
            return refused(route, decision);
        }
        if (!prepared.looksAtPath() && !route.route().limits().counts())
            return admitted(route, path.encoded(), token, Map.of(), Optional.empty(), renewed, decision);
        Map<String, String> named =
                prepared.looksAtPath() ? route.route().pattern().namesIn(path.segments()) : Map.of();
        if (prepared.condition().isPresent()) {
            RequestCondition.Met met = prepared.condition()
                    .get()
                    .on(
                            token.orElseThrow(),
                            named,
                            request.method(),
                            request.headers().get(),
                            decision.at());
            if (decision.add(met.result()) instanceof CheckResult.Refused) {
                decision.done(met.inside());
                return refused(route, decision);
            }
        }
        Counted counted = count(request, route, token, decision);
        if (counted.refused())
            return new GateOutcome.Refused(
                    decision.refusal().orElseThrow(), Optional.of(route), Set.of(), counted.telling());
        String forwarded = prepared.rewrite()
                .map(it -> it.on(named, route.route().pattern().restOf(path.segments())))
                .orElse(path.encoded());
        if (prepared.rewrite().isPresent()) decision.done("the path became " + forwarded);
        return admitted(
                route,
                forwarded,
                token,
                prepared.fillsIn() ? values(route, named, request, token, decision) : Map.of(),
                counted.telling(),
                renewed,
                decision);
    }

    /** Where there is room among those under way; that is looked at last, because it has to be given back. */
    private GateOutcome admitted(
            GuardedRoute route,
            String forwarded,
            Optional<VerifiedToken> token,
            Map<String, Object> values,
            Optional<Count> count,
            Optional<String> renewed,
            Decision.Builder decision) {
        Optional<Integer> most = route.route().limits().concurrent();
        if (most.isEmpty())
            return new GateOutcome.Admitted(
                    route, forwarded, token, values, count, renewed, GateOutcome.Admitted.NOTHING);
        String id = route.route().id();
        if (counters.enter(id, most.get())) {
            AtomicBoolean left = new AtomicBoolean();
            return new GateOutcome.Admitted(route, forwarded, token, values, count, renewed, () -> {
                if (left.compareAndSet(false, true)) counters.leave(id);
            });
        }
        decision.add(CheckResult.refused(
                "concurrent",
                Reason.TOO_MANY_CONCURRENT,
                "at most %d concurrent requests".formatted(most.get()),
                "one more",
                Fix.of("Wait for one to end; or have the limit raised on the route.")));
        return new GateOutcome.Refused(decision.refusal().orElseThrow(), Optional.of(route), Set.of(), count);
    }

    private static CheckResult bodyTooLarge(long bytes, long most) {
        return CheckResult.refused(
                "body",
                Reason.BODY_TOO_LARGE,
                "at most " + most + " bytes",
                bytes + " bytes",
                Fix.of("Send less, or in parts."));
    }

    /** @param telling of the limit that has no room left, or else of the one that is nearest to its end */
    private record Counted(boolean refused, Optional<Count> telling) {}

    private Counted count(
            GateRequest request, GuardedRoute route, Optional<VerifiedToken> token, Decision.Builder decision) {
        Count nearest = null;
        for (Limits.Rate rate : route.route().limits().rates()) {
            Count count = counters.take(route.route().id(), rate, whom(rate.by(), request, token));
            if (decision.add(checked("rate", Reason.RATE_EXCEEDED, count)) instanceof CheckResult.Refused)
                return new Counted(true, Optional.of(count));
            if (nearest == null || count.remaining() < nearest.remaining()) nearest = count;
        }
        for (Limits.Quota quota : route.route().limits().quotas()) {
            Count count = quotas.take(route.route().id(), quota, whom(quota.by(), request, token), decision.at());
            if (decision.add(checked("quota", Reason.QUOTA_EXCEEDED, count)) instanceof CheckResult.Refused)
                return new Counted(true, Optional.of(count));
            if (nearest == null || count.remaining() < nearest.remaining()) nearest = count;
        }
        return new Counted(false, Optional.ofNullable(nearest));
    }

    private static String whom(Limits.By by, GateRequest request, Optional<VerifiedToken> token) {
        return switch (by) {
            case CLIENT -> token.map(VerifiedToken::clientId).orElse("");
            case PERSON -> token.map(VerifiedToken::subject).orElse("");
            case ADDRESS -> request.from();
            case ROUTE -> "";
        };
    }

    private static CheckResult checked(String check, Reason reason, Count count) {
        String expected = "at most " + count.words();
        if (count.passes()) return CheckResult.passed(check, expected, "room for %d more".formatted(count.remaining()));
        long seconds = Math.max(1, (count.room().toMillis() + 999) / 1000);
        return CheckResult.refused(
                check,
                reason,
                expected,
                "more",
                Fix.of("Wait %d s, and call less often; or have the limit raised on the route.".formatted(seconds)));
    }

    private static Map<String, Object> values(
            GuardedRoute route,
            Map<String, String> named,
            GateRequest request,
            Optional<VerifiedToken> token,
            Decision.Builder decision) {
        return Map.of(
                "decision",
                decision.id(),
                "route",
                route.label(),
                "method",
                request.method(),
                "path",
                named,
                "claims",
                token.map(VerifiedToken::claims).orElse(Map.of()));
    }

    private static final CheckResult OPEN = new CheckResult.Skipped("bearer", "the route is open");

    private static GateOutcome refused(GuardedRoute route, Decision.Builder decision) {
        return new GateOutcome.Refused(decision.refusal().orElseThrow(), Optional.of(route), Set.of());
    }

    private static GateOutcome unsafe(GateRequest request, String received, Decision.Builder decision) {
        decision.request(request.method(), Fields.quoted(request.rawPath()), request.from());
        return refusedUnrouted(
                CheckResult.refused(
                        "path",
                        Reason.UNSAFE_PATH,
                        "a path that can be read in one way only",
                        received,
                        Fix.of("Send the path as it is meant.")),
                Set.of(),
                decision);
    }

    private static GateOutcome reserved(Decision.Builder decision) {
        return refusedUnrouted(
                CheckResult.refused(
                        "route",
                        Reason.NO_ROUTE,
                        "a path that a route can have",
                        "one that is the authorization server's",
                        Fix.of("Ask the authorization server, which is at another address.")),
                Set.of(),
                decision);
    }

    private static Decision.Builder ofIssuerAt(GateRequest request, Configuration now, Decision.Builder decision) {
        return now.routes()
                .oneAt(request.host())
                .map(it -> decision.issuer(it.issuer().issuer().name()))
                .orElse(decision);
    }

    private static GateOutcome noRoute(Decision.Builder decision) {
        return refusedUnrouted(
                CheckResult.refused(
                        "route",
                        Reason.NO_ROUTE,
                        "a path that one of the routes matches",
                        "one that none does",
                        Fix.of(
                                "Nothing answers at this path. Check its spelling, or have a route added for it.",
                                "admit route list")),
                Set.of(),
                decision);
    }

    private static GateOutcome otherMethod(String method, Set<String> allowed, Decision.Builder decision) {
        return refusedUnrouted(
                CheckResult.refused(
                        "route",
                        Reason.METHOD_NOT_ALLOWED,
                        String.join(" or ", allowed) + " on this path",
                        method,
                        Fix.of("Use one of these methods, or add a route for this one.", "admit route list")),
                allowed,
                decision);
    }

    private static GateOutcome refusedUnrouted(CheckResult result, Set<String> allowed, Decision.Builder decision) {
        decision.add(result);
        return new GateOutcome.Refused(decision.refusal().orElseThrow(), Optional.empty(), allowed);
    }
}
