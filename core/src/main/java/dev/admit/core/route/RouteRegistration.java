package dev.admit.core.route;

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
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Issuers;
import dev.admit.core.registry.Scope;
import dev.admit.core.registry.Scopes;
import dev.admit.core.route.Route.Guard;
import dev.admit.core.route.Route.Target;
import java.net.URI;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.SortedSet;
import java.util.TreeSet;
import java.util.regex.Pattern;

/** Adds, changes and removes routes. Each change has a revision number and is live when it returns. */
public final class RouteRegistration {
    private static final Pattern METHOD = Pattern.compile("[A-Z]{1,20}");
    private static final int LONGEST_BODY = 64 * 1024;

    private final Transactions transactions;
    private final Issuers issuers;
    private final Apis apis;
    private final Scopes scopes;
    private final Routes routes;
    private final Audit audit;
    private final Republish live;
    private final Clock clock;

    public RouteRegistration(Transactions transactions, Issuers issuers, Apis apis, Scopes scopes, Routes routes, Audit audit, Republish live,
                             Clock clock) {
        this.transactions = transactions;
        this.issuers = issuers;
        this.apis = apis;
        this.scopes = scopes;
        this.routes = routes;
        this.audit = audit;
        this.live = live;
        this.clock = clock;
    }

    /**
     * A route as it is wanted; null leaves a member out.
     *
     * @param methods   empty or null for any
     * @param api       name or id of the API whose tokens are wanted; needed unless {@code open}
     * @param scopes    needed unless {@code anyScope}
     * @param mode      {@code all-of} or {@code any-of} the scopes
     * @param open      said on purpose: passes anyone, without a token
     * @param anyScope  said on purpose: passes any token of the API
     * @param upstream  base address; the API's own when null
     * @param answer    a standing answer instead of an upstream
     * @param cors      whether pages of browser clients may call it
     */
    public record Wanted(List<String> methods, String path, String api, List<String> scopes, String mode, Boolean open,
                         Boolean anyScope, String upstream, WantedAnswer answer, Boolean cors) {}

    public record WantedAnswer(Integer status, String contentType, String body) {}

    /** A route and the revision that its change made. */
    public record Revised(Route route, long revision) {}

    public Change<Revised> add(Issuer issuer, Wanted wanted, Actor by) {
        return published(transactions.inOne(() -> write(issuer, wanted, Optional.empty(), by)));
    }

    /** Puts another route in the place of one that is there. */
    public Change<Revised> replace(Issuer issuer, String routeId, Wanted wanted, Expected expected, Actor by) {
        return published(transactions.inOne(() -> {
            Optional<Route> old = routes.find(issuer.id(), routeId);
            if (old.isEmpty()) return new Change.Absent<>("route", routeId);
            Optional<Change<Revised>> stale = expected.stale(old.get().version());
            return stale.isPresent() ? stale.get() : write(issuer, wanted, old, by);
        }));
    }

    public Change<Revised> remove(Issuer issuer, String routeId, Expected expected, Actor by) {
        return published(transactions.inOne(() -> {
            Optional<Route> old = routes.find(issuer.id(), routeId);
            if (old.isEmpty()) return new Change.Absent<>("route", routeId);
            Optional<Change<Revised>> stale = expected.stale(old.get().version());
            if (stale.isPresent()) return stale.get();
            routes.delete(routeId);
            audit.removed(by, issuer.id(), "route.removed", old.get().label(), old.get());
            return Change.made(new Revised(old.get(), issuers.nextRevision(issuer.id())));
        }));
    }

    private Change<Revised> write(Issuer issuer, Wanted wanted, Optional<Route> old, Actor by) {
        Fields fields = new Fields();
        SortedSet<String> methods = readMethods(fields, wanted.methods());
        Optional<PathPattern> pattern = readPattern(fields, wanted.path());
        Optional<Guard> guard = readGuard(fields, issuer, wanted);
        Optional<Target> target = readTarget(fields, issuer, wanted);
        if (fields.faulty() || pattern.isEmpty() || guard.isEmpty() || target.isEmpty()) return new Change.Invalid<>(fields.faults());
        Optional<FieldFault> clash = clash(issuer, methods, pattern.get(), old);
        if (clash.isPresent()) return new Change.Taken<>(clash.get());

        Route route = new Route(old.map(Route::id).orElseGet(() -> Ids.random("rt_")), issuer.id(), methods, pattern.get(), guard.get(),
                target.get(), Boolean.TRUE.equals(wanted.cors()), old.map(Route::version).orElse(0L) + 1, old.map(Route::createdAt).orElseGet(clock::instant));
        if (old.isPresent() && Audit.same(old.get(), route)) return Change.made(new Revised(old.get(), issuer.revision()), "Nothing differs from what is there.");
        if (old.isPresent()) {
            routes.update(route);
            audit.changed(by, issuer.id(), "route.changed", route.label(), old.get(), route);
        } else {
            routes.insert(route);
            audit.added(by, issuer.id(), "route.added", route.label(), route);
        }
        return new Change.Made<>(new Revised(route, issuers.nextRevision(issuer.id())), fields.notes());
    }

    private static SortedSet<String> readMethods(Fields fields, List<String> wanted) {
        SortedSet<String> methods = new TreeSet<>();
        List<String> came = wanted == null ? List.of() : wanted;
        for (int i = 0; i < came.size(); i++) {
            String method = came.get(i) == null ? "" : came.get(i).strip().toUpperCase(Locale.ROOT);
            if (!METHOD.matcher(method).matches() || method.equals("CONNECT") || method.equals("TRACE")) {
                fields.fault("/methods/" + i, "an HTTP method such as GET, but not CONNECT or TRACE", Fields.quoted(method),
                        "Name the methods, or leave them out for any.");
            }
            methods.add(method);
        }
        return methods;
    }

    private static Optional<PathPattern> readPattern(Fields fields, String path) {
        String text = path == null ? "" : path.strip();
        return switch (PathPattern.read(text)) {
            case PathPattern.Reading.Good(PathPattern pattern) -> Optional.of(pattern);
            case PathPattern.Reading.Impossible(String expected, String mend) -> {
                fields.fault("/path", expected, text.isEmpty() ? "nothing" : Fields.quoted(text), mend);
                yield Optional.empty();
            }
        };
    }

    private Optional<Guard> readGuard(Fields fields, Issuer issuer, Wanted wanted) {
        List<String> wantedScopes = wanted.scopes() == null ? List.of() : wanted.scopes();
        if (Boolean.TRUE.equals(wanted.open())) {
            if (!wantedScopes.isEmpty()) {
                fields.fault("/open", "no scopes on an open route", "scopes too", "Take out open, or the scopes.");
                return Optional.empty();
            }
            fields.note("This route is open: anyone may call it without a token.");
            return Optional.of(new Guard.Open());
        }
        if (wanted.api() == null || wanted.api().isBlank()) {
            fields.fault("/api", "the API whose tokens may pass", "nothing", "Name the API; say open to let anyone pass without a token.");
            return Optional.empty();
        }
        Optional<Api> api = apis.named(issuer.id(), wanted.api().strip());
        if (api.isEmpty()) {
            fields.fault("/api", "an API of this issuer", Fields.quoted(wanted.api()), "List them with: admit api list");
            return Optional.empty();
        }
        boolean anyScope = Boolean.TRUE.equals(wanted.anyScope());
        if (wantedScopes.isEmpty() != anyScope) {
            fields.fault("/scopes", anyScope ? "no scopes where any will do" : "at least one scope", anyScope ? "scopes too" : "none",
                    "Name the scopes it needs; say any_scope to let every token of the API pass.");
            return Optional.empty();
        }
        if (anyScope) fields.note("Any token for " + api.get().audience() + " passes this route, whatever its scope.");
        List<String> names = new ArrayList<>();
        for (int i = 0; i < wantedScopes.size(); i++) {
            String name = wantedScopes.get(i) == null ? "" : wantedScopes.get(i).strip();
            Optional<Scope> scope = scopes.named(issuer.id(), name).filter(it -> it.apiId().equals(api.get().id()));
            if (scope.isEmpty()) {
                fields.fault("/scopes/" + i, "a scope of the API " + api.get().name(), Fields.quoted(name),
                        "List them with: admit scope list " + api.get().name());
            } else if (!names.contains(scope.get().name())) {
                names.add(scope.get().name());
            }
        }
        return readMode(fields, wanted.mode()).map(any -> new Guard.Token(api.get().id(), names, any));
    }

    private static Optional<Boolean> readMode(Fields fields, String mode) {
        if (mode == null || mode.isBlank() || mode.strip().equals("all-of")) return Optional.of(false);
        if (mode.strip().equals("any-of")) return Optional.of(true);
        fields.fault("/mode", "all-of or any-of", Fields.quoted(mode), "Choose one of them.");
        return Optional.empty();
    }

    private Optional<Target> readTarget(Fields fields, Issuer issuer, Wanted wanted) {
        boolean upstreamNamed = wanted.upstream() != null && !wanted.upstream().isBlank();
        if (wanted.answer() != null) {
            if (upstreamNamed) {
                fields.fault("/answer", "either an upstream or a standing answer", "both", "Take one out.");
                return Optional.empty();
            }
            return readAnswer(fields, wanted.answer());
        }
        if (upstreamNamed) return fields.upstream("/upstream", wanted.upstream()).map(base -> new Target.Upstream(Optional.of(base)));
        boolean ofApi = wanted.api() != null && apis.named(issuer.id(), wanted.api().strip()).flatMap(Api::upstream).isPresent();
        if (!ofApi) {
            fields.fault("/upstream", "an upstream, on the route or on its API, or a standing answer", "none", "Add one of them.");
            return Optional.empty();
        }
        return Optional.of(new Target.Upstream(Optional.empty()));
    }

    private static Optional<Target> readAnswer(Fields fields, WantedAnswer answer) {
        int status = answer.status() == null ? 200 : answer.status();
        if (status < 200 || status > 599) fields.fault("/answer/status", "200 to 599", String.valueOf(status), "Choose a final HTTP status.");
        String type = fields.line("/answer/content_type", answer.contentType(), "text/plain; charset=utf-8", Fields.TEXT_LENGTH);
        if (!type.chars().allMatch(c -> c >= 0x20 && c < 0x7f)) {
            fields.fault("/answer/content_type", "a media type in ASCII", Fields.quoted(type), "Write such as application/json.");
        }
        String body = answer.body() == null ? "" : answer.body();
        if (body.length() > LONGEST_BODY) {
            fields.fault("/answer/body", "at most " + LONGEST_BODY + " characters", body.length() + " characters", "Shorten it, or serve it from an upstream.");
        }
        return fields.faulty() ? Optional.empty() : Optional.of(new Target.StandingAnswer(status, type, body));
    }

    /** One gateway serves every issuer, so a method and path can be routed once. */
    private Optional<FieldFault> clash(Issuer issuer, SortedSet<String> methods, PathPattern pattern, Optional<Route> old) {
        for (Route other : routes.withShape(pattern.shape())) {
            if (old.isPresent() && other.id().equals(old.get().id())) continue;
            boolean bothAny = methods.isEmpty() && other.methods().isEmpty();
            if (!bothAny && methods.stream().noneMatch(other.methods()::contains)) continue;
            String whose = other.issuerId().equals(issuer.id()) ? "route " + other.id() + " (" + other.label() + ")" : "a route of another issuer";
            return Optional.of(new FieldFault("/path", "a method and path that no route on this gateway has", "the same as " + whose,
                    "Change that route, or choose another method or path."));
        }
        return Optional.empty();
    }

    private Change<Revised> published(Change<Revised> change) {
        if (change instanceof Change.Made<Revised>) live.republish();
        return change;
    }
}
