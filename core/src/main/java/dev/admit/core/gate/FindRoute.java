package dev.admit.core.gate;

import dev.admit.core.change.Fields;
import dev.admit.core.configuration.BrowserOrigins;
import dev.admit.core.configuration.Configuration;
import dev.admit.core.configuration.GuardedRoute;
import dev.admit.core.decision.Action;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Checked;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import dev.admit.core.route.RequestPath;
import dev.admit.core.route.RouteTable.Match;
import java.util.Optional;
import java.util.Set;

/** The stages that find the route of a request: its path, a page that asks first, the route itself. */
final class FindRoute {
    private final BrowserOrigins origins;

    FindRoute(BrowserOrigins origins) {
        this.origins = origins;
    }

    /** A path that can be read in one way only, normalised. */
    static Checked<RequestPath> path(String raw) {
        return switch (RequestPath.read(raw)) {
            case RequestPath.Reading.Good(RequestPath good) -> Checked.passed(good);
            case RequestPath.Reading.Unsafe(String received) ->
                Checked.refused(
                        "path",
                        Reason.UNSAFE_PATH,
                        "a path that can be read in one way only",
                        received,
                        Fix.of("Send the path as it is meant."));
        };
    }

    /**
     * The route that a browser asks about before its page sends a request (Fetch §4.8). Empty where it does not ask, or
     * the route does not know pages: then it is a request as any other.
     */
    static Optional<GuardedRoute> askedAbout(GateRequest request, RequestPath path, Configuration now) {
        return request.page()
                .flatMap(GateRequest.FromPage::preflight)
                .flatMap(method -> found(now.routes().match(method, request.host(), path.segments())))
                .filter(it -> it.route().cors());
    }

    private static Optional<GuardedRoute> found(Match<GuardedRoute> match) {
        return match instanceof Match.Found<GuardedRoute>(GuardedRoute route) ? Optional.of(route) : Optional.empty();
    }

    /** Whether the page that a browser asks for may call. */
    CheckResult page(GateRequest.FromPage page, GuardedRoute route) {
        String expected = "a page of a browser client of this issuer";
        return mayCall(page, route)
                ? CheckResult.passed("page", expected, page.origin())
                : CheckResult.refused(
                        "page",
                        Reason.ORIGIN_NOT_REGISTERED,
                        expected,
                        Fields.quoted(page.origin()),
                        Fix.of("Have the origin added to the client that the page is of.")
                                .by("an operator"));
    }

    boolean mayCall(GateRequest.FromPage page, GuardedRoute route) {
        return route.route().cors() && origins.allows(route.issuer().issuer().id(), page.origin());
    }

    /** Where a request goes. */
    sealed interface Routed {
        record To(GuardedRoute route, CheckResult check) implements Routed {}

        /** @param allowed the methods the path exists with; may be empty */
        record Nowhere(CheckResult.Refused check, Set<String> allowed) implements Routed {}
    }

    static Routed route(GateRequest request, RequestPath path, Configuration now) {
        if (now.isReserved(path.segments()))
            return nowhere(
                    "a path that a route can have",
                    "one that is the authorization server's",
                    Fix.of("Ask the authorization server, which is at another address."));
        return switch (now.routes().match(request.method(), request.host(), path.segments())) {
            case Match.Found<GuardedRoute>(GuardedRoute found) ->
                new Routed.To(found, CheckResult.passed("route", "a route for this method and path", found.label()));
            case Match.Nothing<GuardedRoute> nothing ->
                nowhere(
                        "a path that one of the routes matches",
                        "one that none does",
                        Fix.of(
                                "Nothing answers at this path. Check its spelling, or have a route added for it.",
                                Action.of("route", "list")));
            case Match.OtherMethod<GuardedRoute>(Set<String> allowed) ->
                new Routed.Nowhere(
                        CheckResult.refused(
                                "route",
                                Reason.METHOD_NOT_ALLOWED,
                                String.join(" or ", allowed) + " on this path",
                                request.method(),
                                Fix.of(
                                        "Use one of these methods, or add a route for this one.",
                                        Action.of("route", "list"))),
                        allowed);
        };
    }

    private static Routed nowhere(String expected, String received, Fix fix) {
        return new Routed.Nowhere(CheckResult.refused("route", Reason.NO_ROUTE, expected, received, fix), Set.of());
    }
}
