package dev.admit.core.openapi;

import dev.admit.core.registry.Api;
import dev.admit.core.route.PathPattern;
import dev.admit.core.route.Route;
import dev.admit.core.route.RouteTable;
import java.net.URI;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Which operations of an API's document the gateway lets through, by which route and at which path. */
public final class Reached {
    private final List<Rewritten> theirs;
    private final RouteTable<Route> table;
    private final String base;

    /** The routes of an issuer, with the table that finds the one that answers. */
    record Routed(List<Route> all, RouteTable<Route> table) {
        static Routed of(List<Route> routes) {
            Map<Route, Route> each = new HashMap<>();
            routes.forEach(it -> each.put(it, it));
            return new Routed(routes, new RouteTable<>(each));
        }
    }

    /**
     * @param of an operation
     * @param route that answers it
     * @param path at the gateway, with the names of the route: {@code /tides/gauges/{gauge}}
     */
    public record Way(OpenApiDocument.Operation of, Route route, String path) {}

    /** @param upstream what its path is there */
    private record Rewritten(Route route, PathPattern upstream) {
        static Optional<Rewritten> of(Route route) {
            Optional<String> becomes = route.transform().path();
            if (becomes.isEmpty())
                return Optional.of(
                        new Rewritten(route, new PathPattern("", route.pattern().parts())));
            return PathPattern.read(becomes.get()) instanceof PathPattern.Reading.Good(PathPattern pattern)
                    ? Optional.of(new Rewritten(route, pattern))
                    : Optional.empty();
        }
    }

    /**
     * @param routes of the issuer, all of them: the most specific answers, whosever it is
     * @param document whose first server says what of its paths the API's upstream has already
     */
    public Reached(Api api, List<Route> routes, OpenApiDocument document) {
        this(api, Routed.of(routes), document);
    }

    /** @param routes of the issuer, made ready before */
    Reached(Api api, Routed routes, OpenApiDocument document) {
        this.theirs = routes.all().stream()
                .filter(it -> leadsTo(it, api))
                .flatMap(it -> Rewritten.of(it).stream())
                // Where two routes lead to an operation, that which keeps its path is told.
                .sorted(Comparator.comparing(it -> it.route().transform().path().isPresent()))
                .toList();
        this.table = routes.table();
        this.base = base(document, api.upstream());
    }

    /**
     * Whether a route is the API's own and leads to its upstream, not elsewhere and not to an answer of the gateway. An
     * open route names no API, but where it leads.
     */
    public static boolean leadsTo(Route route, Api api) {
        if (!(route.target() instanceof Route.Target.Upstream(Optional<URI> to))) return false;
        boolean there = to.isPresent() && to.equals(api.upstream());
        return route.apiId()
                .map(of -> of.equals(api.id()) && (to.isEmpty() || there))
                .orElse(there);
    }

    /** What stands before a document's paths at the upstream beyond the upstream's own path. */
    public static String base(OpenApiDocument document, Optional<URI> to) {
        String server =
                document.servers().stream().findFirst().map(Reached::pathOf).orElse("");
        String upstream = to.map(it -> pathOf(it.toString())).orElse("");
        return server.startsWith(upstream) ? server.substring(upstream.length()) : "";
    }

    static String pathOf(String server) {
        try {
            String path = URI.create(server).getRawPath();
            return path == null ? "" : path.replaceAll("/+$", "");
        } catch (IllegalArgumentException templated) {
            return "";
        }
    }

    /** Empty where no route of the API answers it. */
    public Optional<Way> of(OpenApiDocument.Operation operation) {
        return all(operation).stream().findFirst();
    }

    /** Every way to it: several paths at the gateway may lead to one at the upstream. */
    public List<Way> all(OpenApiDocument.Operation operation) {
        List<String> upstream = segments(base + operation.path());
        List<Way> ways = new ArrayList<>();
        for (Rewritten it : theirs) {
            Route route = it.route();
            Optional<List<String>> at = atGateway(it, upstream);
            if (at.isEmpty()) continue;
            RouteTable.Match<Route> match =
                    table.match(operation.method(), route.pattern().host(), at.get());
            if (match instanceof RouteTable.Match.Found<Route>(Route found)
                    && found.id().equals(route.id())) ways.add(new Way(operation, route, written(route, at.get())));
        }
        return ways;
    }

    /** The path at the gateway that this route would turn into one at the upstream. */
    private static Optional<List<String>> atGateway(Rewritten route, List<String> upstream) {
        PathPattern pattern = route.upstream();
        if (!pattern.fits("", upstream)) return Optional.empty();
        Map<String, String> names = pattern.namesIn(upstream);
        List<String> path = new ArrayList<>();
        for (PathPattern.Part part : route.route().pattern().parts()) {
            switch (part) {
                case PathPattern.Part.Literal(String text) -> path.add(text);
                case PathPattern.Part.Named(String name) -> path.add(names.getOrDefault(name, "{" + name + "}"));
                case PathPattern.Part.Rest rest -> path.addAll(pattern.restOf(upstream));
            }
        }
        return Optional.of(path);
    }

    private static String written(Route route, List<String> segments) {
        return route.pattern().host() + "/" + String.join("/", segments);
    }

    /** Of a path, split at its slashes. */
    public static List<String> segments(String path) {
        return path.equals("/") || path.isEmpty()
                ? List.of()
                : List.of(path.substring(1).split("/", -1));
    }
}
