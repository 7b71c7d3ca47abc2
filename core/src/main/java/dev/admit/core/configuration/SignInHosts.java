package dev.admit.core.configuration;

import dev.admit.core.route.Route;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;

/**
 * The hosts at which routes sign browsers in. There a page of any route could act as the person who is signed in, so
 * the answers of routes without sign-in are put into a sandbox.
 *
 * @param named by name
 * @param issuers with routes that sign in at a named host, where their routes for any host answer too
 * @param atAny whether a route for any host signs in
 */
record SignInHosts(Set<String> named, Set<String> issuers, boolean atAny) {
    private static final String POLICY = "content-security-policy";

    static SignInHosts of(List<Route> routes) {
        Set<String> named = new HashSet<>();
        Set<String> issuers = new HashSet<>();
        boolean atAny = false;
        for (Route route : routes) {
            if (!route.signsIn()) continue;
            atAny |= route.pattern().host().isEmpty();
            if (route.pattern().host().isEmpty()) continue;
            named.add(route.pattern().host());
            issuers.add(route.issuerId());
        }
        return new SignInHosts(named, issuers, atAny);
    }

    /** Not where the route itself says what its pages may do. */
    boolean sandboxes(Route route) {
        boolean besideSignIn = route.pattern().host().isEmpty()
                ? atAny || issuers.contains(route.issuerId())
                : named.contains(route.pattern().host());
        return besideSignIn
                && !route.signsIn()
                && route.transform().setOnResponse().keySet().stream()
                        .noneMatch(it -> it.toLowerCase(Locale.ROOT).equals(POLICY));
    }
}
