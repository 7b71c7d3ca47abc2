package dev.admit.server.admin;

import dev.admit.contract.AccessMapView;
import dev.admit.contract.RouteView;
import dev.admit.contract.ScopeView;
import dev.admit.core.access.AdminRole;
import dev.admit.core.accessmap.AccessMap;
import dev.admit.core.change.Page;
import dev.admit.core.decision.BatchedJournal;
import dev.admit.core.decision.Decisions;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Apis;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Scopes;
import dev.admit.core.route.Route;
import dev.admit.core.route.Routes;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Who can call what, and what passed. */
@RestController
class AccessMapEndpoint {
    private static final Duration USUAL = Duration.ofDays(7);
    private static final int MOST_DECISIONS = 200_000;

    private final AccessMap.Callers callers;
    private final Decisions decisions;
    private final BatchedJournal journal;
    private final Apis apis;
    private final Scopes scopes;
    private final Routes routes;
    private final Lookup lookup;
    private final Views views;
    private final Times times;
    private final Clock clock;

    AccessMapEndpoint(
            AccessMap.Callers callers,
            Decisions decisions,
            BatchedJournal journal,
            Apis apis,
            Scopes scopes,
            Routes routes,
            Lookup lookup,
            Views views,
            Times times,
            Clock clock) {
        this.callers = callers;
        this.decisions = decisions;
        this.journal = journal;
        this.apis = apis;
        this.scopes = scopes;
        this.routes = routes;
        this.lookup = lookup;
        this.views = views;
        this.times = times;
        this.clock = clock;
    }

    /**
     * @param search narrows the clients
     * @param members the id of a caller that stands for several, to see them one by one
     * @param since a time, or a length of time ago
     */
    @Permitted(AdminRole.AUDITOR)
    @GetMapping("/admin/issuers/{issuer}/access-map")
    AccessMapView show(
            @PathVariable String issuer,
            @RequestParam(defaultValue = "") String search,
            @RequestParam(defaultValue = "") String members,
            @RequestParam(required = false) String since) {
        Issuer owner = lookup.issuer(issuer);
        journal.flush();
        Instant from = times.ago("/since", since).orElse(clock.instant().minus(USUAL));
        List<AccessMap.Passed> passed = decisions.passed(owner.name(), from, MOST_DECISIONS);
        List<AccessMap.CallerRow> asking = new ArrayList<>(callers.of(owner.id(), search.strip()));
        if (search.isBlank()) asking.addAll(elsewhere(owner, passed));
        AccessMap accessMap = AccessMap.of(asking, passed, members);
        List<ScopeView> theirs = new ArrayList<>();
        for (Api api : apis.list(owner.id(), new Page.Ask(Optional.empty(), Page.Ask.MOST))
                .items()) scopes.of(api.id()).forEach(scope -> theirs.add(views.scope(api, scope)));
        List<RouteView> table =
                routes.of(owner.id()).stream().map(it -> views.route(owner, it)).toList();
        return new AccessMapView(
                accessMap.callers().stream()
                        .map(it -> new AccessMapView.Caller(
                                it.id(), it.kind(), it.enabled(), it.names(), it.members(), it.scopes()))
                        .toList(),
                theirs,
                table,
                traffic(accessMap.traffic()),
                traffic(accessMap.unknown()),
                accessMap.clients(),
                accessMap.together(),
                from);
    }

    /**
     * Callers that came with tokens of trusted issuers; what they hold stands in their tokens, so it is what the routes
     * they passed need.
     */
    private List<AccessMap.CallerRow> elsewhere(Issuer owner, List<AccessMap.Passed> passed) {
        Map<String, List<String>> needed = new HashMap<>();
        for (Route route : routes.of(owner.id()))
            if (route.guard() instanceof Route.Guard.Token token) needed.put(route.label(), token.scopes());
        Map<String, TreeMap<String, String>> scopesOf = new TreeMap<>();
        for (AccessMap.Passed it : passed) {
            if (!it.clientId().contains(":")) continue; // a client of a trusted issuer is known as ISSUER:CLIENT
            TreeMap<String, String> held = scopesOf.computeIfAbsent(it.clientId(), fresh -> new TreeMap<>());
            if (it.admitted() > 0)
                needed.getOrDefault(it.route(), List.of()).forEach(scope -> held.put(scope, "granted"));
        }
        return scopesOf.entrySet().stream()
                .map(it -> new AccessMap.CallerRow(it.getKey(), it.getKey(), "elsewhere", true, it.getValue()))
                .toList();
    }

    private static List<AccessMapView.Traffic> traffic(List<AccessMap.Traffic> all) {
        return all.stream()
                .map(it -> new AccessMapView.Traffic(it.caller(), it.route(), it.admitted(), it.refused()))
                .toList();
    }
}
