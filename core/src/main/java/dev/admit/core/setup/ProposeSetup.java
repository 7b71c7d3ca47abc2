package dev.admit.core.setup;

import com.nimbusds.jose.util.JSONObjectUtils;
import dev.admit.contract.RouteTransform;
import dev.admit.contract.ScopeWanted;
import dev.admit.core.change.Fields;
import dev.admit.core.openapi.OpenApiDocument;
import dev.admit.core.openapi.Reached;
import dev.admit.core.openapi.Wants;
import dev.admit.core.registry.Api;
import dev.admit.core.route.PathPattern;
import dev.admit.core.route.Route;
import java.net.URI;
import java.text.ParseException;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Function;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;

/**
 * Turns an OpenAPI document into what a setup file would say: the API, its scopes, and a route for each operation that
 * no route answers yet as the document wants it. Nothing is removed, and what an owner wrote of a scope stays.
 */
public final class ProposeSetup {
    private final OpenApiDocument document;
    private final Given given;
    private final Now now;
    private final String base;
    private final List<String> opens = new ArrayList<>();
    private final List<String> notes = new ArrayList<>();

    /**
     * @param issuer its name
     * @param api the name that the API has or is to have
     * @param prefix what the paths at the gateway begin with, such as {@code /tides}; empty for nothing
     * @param upstream where the API is to be found; empty for as it is, or as the document says
     */
    public record Given(String issuer, String api, String prefix, Optional<URI> upstream) {}

    /**
     * What is there.
     *
     * @param scopes whether the issuer has a scope of this name
     * @param routes of the issuer, all of them
     * @param part a route as a setup file has it
     */
    public record Now(
            Optional<Api> api, Predicate<String> scopes, List<Route> routes, Function<Route, Setup.RoutePart> part) {}

    /**
     * @param gone labels of the API's routes that answer no operation of the document
     * @param opens what passes from then on that does not pass now, in sentences
     * @param notes what the document could not be followed in, and what is worth a look
     */
    public record Proposal(Setup setup, List<String> gone, List<String> opens, List<String> notes) {}

    private ProposeSetup(OpenApiDocument document, Given given, Now now) {
        this.document = document;
        this.given = given;
        this.now = now;
        this.base = Reached.base(document, upstream());
    }

    public static Proposal of(OpenApiDocument document, Given given, Now now) {
        return new ProposeSetup(document, given, now).proposal();
    }

    private Optional<URI> upstream() {
        if (given.upstream().isPresent()) return given.upstream();
        Optional<URI> there = now.api().flatMap(Api::upstream);
        return there.isPresent() ? there : absoluteServer();
    }

    private Optional<URI> absoluteServer() {
        return document.servers().stream()
                .filter(it -> it.matches("https?://[^{}]+"))
                .findFirst()
                .map(it -> URI.create(it.replaceAll("/+$", "")));
    }

    private Proposal proposal() {
        Optional<Reached> reached = now.api().map(it -> new Reached(it, now.routes(), document));
        Set<String> used = new HashSet<>();
        List<Setup.RoutePart> routes = new ArrayList<>();
        for (OpenApiDocument.Operation it : document.operations()) {
            List<Reached.Way> ways = reached.map(found -> found.all(it)).orElse(List.of());
            ways.forEach(found -> used.add(found.route().label()));
            List<Reached.Way> here =
                    ways.stream().filter(way -> isUnderPrefix(way.path())).toList();
            said(it);
            Wants wants = Wants.of(it.security());
            if (here.stream().noneMatch(way -> Wants.of(way.route()).equals(wants)))
                route(it, here.stream().findFirst()).ifPresent(routes::add);
        }
        if (upstream().isEmpty())
            notes.add("The document names no server with a whole URL: say where the API is, with --upstream.");
        List<String> gone = now.api().stream()
                .flatMap(api -> now.routes().stream().filter(it -> isTheirs(it, api)))
                .map(Route::label)
                .filter(label -> !used.contains(label))
                .sorted()
                .toList();
        return new Proposal(
                new Setup(
                        given.issuer(),
                        null,
                        null,
                        null,
                        null,
                        Map.of(given.api(), api()),
                        routes.isEmpty() ? null : routes,
                        null,
                        null,
                        null),
                gone,
                List.copyOf(opens),
                List.copyOf(notes));
    }

    /** An open route names no API: where several share an upstream, the prefix says whose it is. */
    private boolean isTheirs(Route route, Api api) {
        return Reached.leadsTo(route, api)
                && (route.apiId().isPresent() || isUnderPrefix(route.pattern().toString()));
    }

    /** @param at a path, perhaps with a host before it */
    private boolean isUnderPrefix(String at) {
        String path = at.substring(at.indexOf('/'));
        return path.equals(given.prefix()) || path.startsWith(given.prefix() + "/");
    }

    /** What a document can say and a route cannot. */
    private void said(OpenApiDocument.Operation it) {
        switch (it.security()) {
            case OpenApiDocument.Security.Open open ->
                notes.add("%s asks for no token in the document: its route lets anyone pass.".formatted(it.label()));
            case OpenApiDocument.Security.Unsaid unsaid ->
                notes.add("The document does not say what %s asks for: its route wants any token for the API."
                        .formatted(it.label()));
            case OpenApiDocument.Security.Token(List<List<String>> alternatives) -> {
                if (!Wants.isTold(alternatives))
                    notes.add("%s has alternatives of several scopes, which no route tells apart: all are wanted."
                            .formatted(it.label()));
            }
        }
    }

    private Setup.ApiPart api() {
        boolean isNew = now.api().isEmpty();
        Map<String, ScopeWanted> scopes = new LinkedHashMap<>();
        for (String name : names()) if (!now.scopes().test(name)) scopes.put(name, scope(name));
        return new Setup.ApiPart(
                isNew ? line(document.title(), Fields.TEXT_LENGTH) : null,
                null,
                null,
                isNew || given.upstream().isPresent()
                        ? upstream().map(URI::toString).orElse(null)
                        : null,
                null,
                null,
                scopes.isEmpty() ? null : scopes,
                null,
                null,
                null,
                parsed(document.whole()),
                null);
    }

    private static Map<String, Object> parsed(String json) {
        try {
            return JSONObjectUtils.parse(json);
        } catch (ParseException damaged) {
            throw new IllegalStateException("a document that was read cannot be read", damaged);
        }
    }

    /** Those that an operation asks for, and no more: what a flow lists beside them opens nothing. */
    private Set<String> names() {
        Set<String> names = new TreeSet<>();
        document.operations().forEach(it -> names.addAll(Wants.of(it.security()).scopes()));
        return names;
    }

    private ScopeWanted scope(String name) {
        boolean reads = false;
        boolean changes = false;
        for (OpenApiDocument.Operation it : document.operations()) {
            if (!Wants.of(it.security()).scopes().contains(name)) continue;
            boolean safe = Set.of("GET", "HEAD", "OPTIONS").contains(it.method());
            reads |= safe;
            changes |= !safe;
        }
        String said = line(document.scopes().getOrDefault(name, ""), Fields.LONG_TEXT_LENGTH);
        return new ScopeWanted(
                null,
                reads && changes ? "both" : reads ? "reads" : "changes",
                "everyone",
                "both",
                said.isEmpty() || said.contains("{") ? null : said,
                "administrator",
                null,
                null,
                null,
                null,
                null);
    }

    private static String line(String text, int longest) {
        String one = text.replaceAll("\\s+", " ").strip();
        return one.length() > longest ? one.substring(0, longest - 1) + "…" : one;
    }

    /** @param way to the operation as it is now */
    private Optional<Setup.RoutePart> route(OpenApiDocument.Operation it, Optional<Reached.Way> way) {
        String upstream = base + renamed(it.path());
        String path = given.prefix() + renamed(it.path());
        return switch (PathPattern.read(path)) {
            case PathPattern.Reading.Impossible(String expected, String fix) -> {
                notes.add("%s is left out: a route is %s. %s".formatted(it.label(), expected, fix));
                yield Optional.empty();
            }
            case PathPattern.Reading.Good(PathPattern pattern) -> {
                Optional<Route> there = now.routes().stream()
                        .filter(route -> route.methods().contains(it.method())
                                && route.pattern().shape().equals(pattern.shape()))
                        .findFirst();
                boolean its = there.isPresent()
                        && way.filter(found ->
                                        found.route().id().equals(there.get().id()))
                                .isPresent()
                        && there.get().methods().size() == 1;
                // Whatever else answers there keeps it: no document takes a path from another API.
                if (there.isPresent() && !its) {
                    notes.add("%s is left out: %s answers there, for something else. Choose another prefix."
                            .formatted(it.label(), there.get().label()));
                    yield Optional.empty();
                }
                Wants wants = Wants.of(it.security());
                way.map(found -> Wants.of(found.route()))
                        .filter(wants::letsMorePassThan)
                        .ifPresent(was ->
                                opens.add("%s lets more pass: it wants %s, not %s.".formatted(it.label(), wants, was)));
                // What a wider route says of callers and limits goes for the narrower one too.
                Optional<Setup.RoutePart> before = way.map(Reached.Way::route).map(now.part());
                Setup.RoutePart part = its
                        ? before.orElseThrow()
                        : beneath(before, it.method() + " " + path, path.equals(upstream) ? null : upstream);
                yield Optional.of(guarded(part, wants));
            }
        };
    }

    /** @param becomes what the path is at the upstream; null where it stays */
    private static Setup.RoutePart beneath(Optional<Setup.RoutePart> wider, String label, @Nullable String becomes) {
        RouteTransform was = wider.map(Setup.RoutePart::transform).orElse(null);
        RouteTransform transform = was != null
                ? new RouteTransform(
                        becomes,
                        was.setOnRequest(),
                        was.renamedOnRequest(),
                        was.removedOnRequest(),
                        was.setOnResponse(),
                        was.removedOnResponse(),
                        was.credential(),
                        was.refusals(),
                        was.proof())
                : becomes == null ? null : new RouteTransform(becomes, null, null, null, null, null, null, null, null);
        return new Setup.RoutePart(
                label,
                null,
                null,
                null,
                null,
                null,
                wider.map(Setup.RoutePart::upstream).orElse(null),
                null,
                wider.map(Setup.RoutePart::cors).orElse(null),
                wider.map(Setup.RoutePart::who).orElse(null),
                transform,
                wider.map(Setup.RoutePart::timeouts).orElse(null),
                wider.map(Setup.RoutePart::limits).orElse(null));
    }

    private Setup.RoutePart guarded(Setup.RoutePart part, Wants wants) {
        return new Setup.RoutePart(
                part.route(),
                wants.open() ? null : given.api(),
                wants.scopes().isEmpty() ? null : List.copyOf(wants.scopes()),
                wants.any() ? "any-of" : null,
                wants.open() ? true : null,
                !wants.open() && wants.scopes().isEmpty() ? true : null,
                wants.open() ? where(part) : part.upstream(),
                part.fixedResponse(),
                part.cors(),
                wants.open() ? null : part.who(),
                part.transform(),
                part.timeouts(),
                part.limits());
    }

    /** An open route names no API, so it says itself where it leads. */
    private @Nullable String where(Setup.RoutePart part) {
        return part.upstream() != null
                ? part.upstream()
                : upstream().map(URI::toString).orElse(null);
    }

    /** With names as routes have them: {@code {gaugeId}} becomes {@code {gauge_id}}. */
    private static String renamed(String path) {
        StringBuilder text = new StringBuilder();
        for (String segment : Reached.segments(path)) {
            boolean named = segment.matches("\\{[A-Za-z][A-Za-z0-9_.-]*}");
            text.append('/')
                    .append(
                            named
                                    ? segment.replaceAll("([a-z0-9])([A-Z])", "$1_$2")
                                            .replaceAll("[.-]", "_")
                                            .toLowerCase(Locale.ROOT)
                                    : segment);
        }
        return text.isEmpty() ? "/" : text.toString();
    }
}
