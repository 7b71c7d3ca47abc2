package dev.admit.core.route;

import dev.admit.contract.RouteWanted;
import dev.admit.core.audit.Audit;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.Expected;
import dev.admit.core.change.FieldFault;
import dev.admit.core.change.Fields;
import dev.admit.core.change.Ids;
import dev.admit.core.change.Republish;
import dev.admit.core.change.Transactions;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Apis;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.Clients;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Issuers;
import dev.admit.core.registry.Scopes;
import dev.admit.core.trust.TrustedIssuer;
import dev.admit.core.trust.TrustedIssuers;
import dev.admit.core.upstream.UpstreamCredentials;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.UnaryOperator;

/** Adds, changes and removes routes. Each change has a revision number and is live when it returns. */
public final class RouteRegistration {
    private final Transactions transactions;
    private final KeepRevision keep;
    private final Issuers issuers;
    private final Apis apis;
    private final Scopes scopes;
    private final Clients clients;
    private final TrustedIssuers trusted;
    private final UpstreamCredentials credentials;
    private final Routes routes;
    private final UnaryOperator<String> gatewayAt;
    private final Audit audit;
    private final Republish live;
    private final Clock clock;

    /**
     * @param gatewayAt scheme, host and port at which a host of a route, or the shared one for an empty text, is called
     */
    public RouteRegistration(
            Transactions transactions,
            KeepRevision keep,
            Issuers issuers,
            Apis apis,
            Scopes scopes,
            Clients clients,
            TrustedIssuers trusted,
            UpstreamCredentials credentials,
            Routes routes,
            UnaryOperator<String> gatewayAt,
            Audit audit,
            Republish live,
            Clock clock) {
        this.transactions = transactions;
        this.keep = keep;
        this.issuers = issuers;
        this.apis = apis;
        this.scopes = scopes;
        this.clients = clients;
        this.trusted = trusted;
        this.credentials = credentials;
        this.routes = routes;
        this.gatewayAt = gatewayAt;
        this.audit = audit;
        this.live = live;
        this.clock = clock;
    }

    /** A route and the revision that its change made. */
    public record Revised(Route route, long revision) {}

    /** @param why as the one who makes the change says it; null for nothing, as in the next two */
    public Change<Revised> add(Issuer issuer, RouteWanted wanted, String why, Actor by) {
        return published(transactions.inOne(() -> write(issuer, wanted, Optional.empty(), "", why, by)));
    }

    /**
     * Puts another route in the place of one that is there. What the route does no more is in the notes.
     *
     * @param confirm the path of the route, said when the change lets more pass than before; null for not said
     */
    public Change<Revised> replace(
            Issuer issuer,
            String routeId,
            RouteWanted wanted,
            Expected expected,
            String confirm,
            String why,
            Actor by) {
        return published(transactions.inOne(() -> {
            Optional<Route> old = routes.find(issuer.id(), routeId);
            if (old.isEmpty()) return new Change.Absent<>("route", routeId);
            Optional<Change<Revised>> stale = expected.stale(old.get().version());
            return stale.isPresent() ? stale.get() : write(issuer, wanted, old, confirm, why, by);
        }));
    }

    public Change<Revised> remove(Issuer issuer, String routeId, Expected expected, String why, Actor by) {
        return published(transactions.inOne(() -> {
            Optional<Route> old = routes.find(issuer.id(), routeId);
            if (old.isEmpty()) return new Change.Absent<>("route", routeId);
            Optional<Change<Revised>> stale = expected.stale(old.get().version());
            if (stale.isPresent()) return stale.get();
            routes.delete(routeId);
            audit.removed(by, issuer.id(), "route.removed", old.get().label(), old.get());
            return Change.made(new Revised(
                    old.get(),
                    keep.revision(issuer, List.of(new Revisions.Step(old, Optional.empty())), why, by)
                            .number()));
        }));
    }

    /** A route that is not saved, as it would be. */
    public Change<Route> preview(Issuer issuer, RouteWanted wanted) {
        RouteReading reading = new RouteReading(issuer, apis, scopes, clients, trusted, credentials, gatewayAt);
        return read(reading, issuer, wanted, Optional.empty())
                .<Change<Route>>map(Change::made)
                .orElseGet(() -> new Change.Invalid<>(reading.fields().faults()));
    }

    private Optional<Route> read(RouteReading reading, Issuer issuer, RouteWanted wanted, Optional<Route> old) {
        return reading.read(wanted)
                .map(read -> new Route(
                        old.map(Route::id).orElseGet(() -> Ids.random("rt_")),
                        issuer.id(),
                        read.methods(),
                        read.pattern(),
                        read.guard(),
                        read.target(),
                        read.transform(),
                        read.timeouts(),
                        read.limits(),
                        Boolean.TRUE.equals(wanted.cors()),
                        old.map(Route::version).orElse(0L) + 1,
                        old.map(Route::createdAt).orElseGet(clock::instant)));
    }

    private Change<Revised> write(
            Issuer issuer, RouteWanted wanted, Optional<Route> old, String confirm, String why, Actor by) {
        RouteReading reading = new RouteReading(issuer, apis, scopes, clients, trusted, credentials, gatewayAt);
        Optional<Route> read = read(reading, issuer, wanted, old);
        Fields fields = reading.fields();
        if (read.isEmpty()) return new Change.Invalid<>(fields.faults());
        Route route = read.get();
        Optional<FieldFault> notItsOwn = OwnAddresses.fault(issuer, route.pattern(), issuers.all());
        if (notItsOwn.isPresent()) return Change.invalid(notItsOwn.get());
        if (route.signsIn() && route.pattern().host().isEmpty()) {
            fields.note("People sign in here at the gateway's shared host: pages of other routes there are put into a "
                    + "sandbox. Name a host of this issuer in the path, such as office.example/**, to have "
                    + "it apart.");
        }
        Optional<FieldFault> clash = clash(route);
        if (clash.isPresent()) return new Change.Taken<>(clash.get());
        if (old.isPresent() && Audit.same(old.get(), route))
            return Change.made(new Revised(old.get(), issuer.revision()), "Nothing differs from what is there.");
        RouteComparison comparison = old.map(it -> RouteComparison.of(it, route, namesAt(issuer)))
                .orElse(new RouteComparison(List.of(), List.of()));
        if (!comparison.opens().isEmpty()
                && !old.orElseThrow().pattern().toString().equals(confirm)) {
            return new Change.NeedsConfirmation<>(
                    old.get().pattern().toString(), Change.NeedsConfirmation.LETS_MORE_PASS, comparison.opens());
        }
        if (old.isPresent()) {
            routes.update(route);
            audit.changed(by, issuer.id(), "route.changed", route.label(), old.get(), route);
        } else {
            routes.insert(route);
            audit.added(by, issuer.id(), "route.added", route.label(), route);
        }
        List<String> notes = new ArrayList<>(fields.notes());
        notes.addAll(comparison.opens());
        notes.addAll(comparison.drops());
        List<Route> all = routes.of(issuer.id());
        notes.addAll(Precedence.overlaps(route, all));
        notes.addAll(Precedence.unreached(route, all));
        return new Change.Made<>(
                new Revised(
                        route,
                        keep.revision(issuer, List.of(new Revisions.Step(old, Optional.of(route))), why, by)
                                .number()),
                notes);
    }

    RouteComparison.Names namesAt(Issuer issuer) {
        return new RouteComparison.Names(
                id -> apis.named(issuer.id(), id).map(Api::name).orElse(id),
                id -> clients.named(issuer.id(), id).map(Client::name).orElse(id),
                id -> id.equals(issuer.id())
                        ? ""
                        : trusted.named(issuer.id(), id)
                                .map(TrustedIssuer::name)
                                .orElse(id),
                id -> credentials
                        .named(issuer.id(), id)
                        .map(it -> it.credential().name())
                        .orElse(id));
    }

    /** One gateway serves every issuer, so a method and path can be routed once. */
    private Optional<FieldFault> clash(Route route) {
        Optional<FieldFault> same = routes.withShape(route.pattern().shape()).stream()
                .filter(it -> it.issuerId().equals(route.issuerId()))
                .filter(route::clashesWith)
                .findFirst()
                .map(other -> new FieldFault(
                        "/path",
                        "a method and path that no route on this gateway has",
                        "the same as route " + other.id() + " (" + other.label() + ")",
                        "Change that route, or choose another method or path."));
        return same.isPresent()
                ? same
                : routes.ofOthers(route.issuerId()).stream()
                        .filter(route::takesFrom)
                        .findFirst()
                        .map(other -> new FieldFault(
                                "/path",
                                "a host or paths that no other issuer's routes have",
                                "some that a route of another issuer has",
                                "Choose another host or path: what is another issuer's stays theirs."));
    }

    private Change<Revised> published(Change<Revised> change) {
        if (change instanceof Change.Made<Revised>) live.republish();
        return change;
    }
}
