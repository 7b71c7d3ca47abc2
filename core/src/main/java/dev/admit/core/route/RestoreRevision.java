package dev.admit.core.route;

import dev.admit.core.audit.Audit;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.FieldFault;
import dev.admit.core.change.Republish;
import dev.admit.core.change.Transactions;
import dev.admit.core.registry.Apis;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Issuers;
import dev.admit.core.registry.Scopes;
import dev.admit.core.trust.TrustedIssuers;
import dev.admit.core.upstream.UpstreamCredentials;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * Puts an issuer's routes as they stood with a revision, as a revision of its own. Routes alone: no key, no approval
 * and no switch comes back.
 */
public final class RestoreRevision {
    private final Transactions transactions;
    private final Routes routes;
    private final Revisions revisions;
    private final KeepRevision keep;
    private final Issuers issuers;
    private final Apis apis;
    private final Scopes scopes;
    private final TrustedIssuers trusted;
    private final UpstreamCredentials credentials;
    private final RouteRegistration registration;
    private final Audit audit;
    private final Republish live;

    public RestoreRevision(
            Transactions transactions,
            Routes routes,
            Revisions revisions,
            KeepRevision keep,
            Issuers issuers,
            Apis apis,
            Scopes scopes,
            TrustedIssuers trusted,
            UpstreamCredentials credentials,
            RouteRegistration registration,
            Audit audit,
            Republish live) {
        this.transactions = transactions;
        this.routes = routes;
        this.revisions = revisions;
        this.keep = keep;
        this.issuers = issuers;
        this.apis = apis;
        this.scopes = scopes;
        this.trusted = trusted;
        this.credentials = credentials;
        this.registration = registration;
        this.audit = audit;
        this.live = live;
    }

    /**
     * @param confirm the number, said when the routes let more pass than now; null for not said
     * @return the revision that it made; the present one when nothing differs
     */
    public Change<Revision> to(Issuer issuer, long number, String confirm, @Nullable String why, Actor by) {
        Change<Revision> change = transactions.inOne(() -> {
            Optional<Revision> meant = revisions.find(issuer.id(), number);
            if (meant.isEmpty()) return new Change.Absent<>("revision", String.valueOf(number));
            Map<String, Route> wanted = byId(revisions.at(issuer.id(), number));
            Map<String, Route> now = byId(routes.of(issuer.id()));
            for (Route route : wanted.values()) {
                Optional<Change<Revision>> refused = refused(issuer, number, route);
                if (refused.isPresent()) return refused.get();
            }
            List<Revisions.Step> steps = new ArrayList<>();
            now.values().stream()
                    .filter(it -> !wanted.containsKey(it.id()))
                    .forEach(it -> steps.add(new Revisions.Step(Optional.of(it), Optional.empty())));
            for (Route route : wanted.values()) {
                Optional<Route> before = Optional.ofNullable(now.get(route.id()));
                if (before.filter(it -> it.versioned(0).equals(route.versioned(0)))
                        .isPresent()) continue;
                steps.add(new Revisions.Step(
                        before, Optional.of(route.versioned(revisions.lastVersion(route.id()) + 1))));
            }
            if (steps.isEmpty()) return Change.made(meant.get(), "The routes stand so now.");
            List<String> opens = opens(issuer, steps);
            if (!opens.isEmpty() && !String.valueOf(number).equals(confirm))
                return new Change.NeedsConfirmation<>(
                        String.valueOf(number), Change.NeedsConfirmation.LETS_MORE_PASS, opens);
            // What goes makes room for what comes: two of them may want the same method and path.
            for (Revisions.Step step : steps) step.before().ifPresent(it -> routes.delete(it.id()));
            for (Revisions.Step step : steps) step.after().ifPresent(routes::insert);
            Revision made = keep.revision(
                    issuer, steps, why == null || why.isBlank() ? "restored revision " + number : why, by);
            audit.added(
                    by,
                    issuer.id(),
                    "revision.brought-back",
                    String.valueOf(number),
                    Map.of("revision", made.number(), "routes", steps.size()));
            return Change.made(made);
        });
        if (change instanceof Change.Made<Revision>) live.republish();
        return change;
    }

    private List<String> opens(Issuer issuer, List<Revisions.Step> steps) {
        RouteComparison.Names names = registration.namesAt(issuer);
        List<String> opens = new ArrayList<>();
        for (Revisions.Step step : steps) {
            if (step.before().isEmpty())
                opens.add("The route %s is there again."
                        .formatted(step.after().orElseThrow().label()));
            else if (step.after().isPresent())
                RouteComparison.of(step.before().get(), step.after().get(), names)
                        .opens()
                        .forEach(it -> opens.add(step.before().get().label() + ": " + it));
        }
        return opens;
    }

    private static Map<String, Route> byId(List<Route> routes) {
        return routes.stream()
                .collect(Collectors.toMap(
                        Route::id, Function.identity(), (one, other) -> one, java.util.LinkedHashMap::new));
    }

    private Optional<Change<Revision>> refused(Issuer issuer, long number, Route route) {
        List<String> gone = new ArrayList<>();
        if (route.transform()
                .credential()
                .filter(it -> credentials.named(issuer.id(), it).isEmpty())
                .isPresent()) gone.add("its upstream credential");
        if (route.guard() instanceof Route.Guard.Token token) {
            if (apis.named(issuer.id(), token.apiId()).isEmpty()) gone.add("its API");
            token.who().issuers().stream()
                    .filter(it -> !it.equals(issuer.id())
                            && trusted.named(issuer.id(), it).isEmpty())
                    .forEach(it -> gone.add("a trusted issuer"));
            token.scopes().stream()
                    .filter(it -> scopes.named(issuer.id(), it).isEmpty())
                    .forEach(it -> gone.add("the scope " + it));
        }
        if (!gone.isEmpty()) {
            return Optional.of(new Change.Refused<>(
                    "Revision %d has the route %s, and %s is gone."
                            .formatted(number, route.label(), String.join(" and ", gone)),
                    "Put that there again first, or change the routes by hand."));
        }
        Optional<FieldFault> notItsOwn = OwnAddresses.fault(issuer, route.pattern(), issuers.all());
        if (notItsOwn.isPresent()) return Optional.of(new Change.Taken<>(notItsOwn.get()));
        boolean taken = routes.ofOthers(issuer.id()).stream().anyMatch(route::takesFrom);
        if (taken)
            return Optional.of(new Change.Taken<>(new FieldFault(
                    "/",
                    "hosts and paths that no other issuer has",
                    route.label(),
                    "Another issuer took it since. Change the routes by hand.")));
        return Optional.empty();
    }
}
