package dev.admit.core.route;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;

/**
 * Finds the one route for a method, a host and a path, most specific first: a route for the host goes before one for
 * any; then segment by segment from the left, a literal goes before {@code {name}}, which goes before {@code /**}; on
 * the same pattern a named method goes before any. GET routes also answer HEAD. Immutable once built; the cost of a
 * match hangs on the depth of the path, not on the number of routes. A host belongs to the issuer whose routes name it:
 * routes of others, though they name no host, do not answer there.
 *
 * @param <R> what stands behind a route
 */
public final class RouteTable<R> {
    private final Node<R> anyHost = new Node<>();
    private final Map<String, Hosted<R>> byHost = new HashMap<>();

    /**
     * @param named routes that name the host
     * @param any the same issuer's for any host
     */
    private record Hosted<R>(Node<R> named, Node<R> any, R one) {}

    public sealed interface Match<R> {
        record Found<R>(R route) implements Match<R> {}

        /**
         * The path exists with other methods.
         *
         * @param allowed those, sorted, for the {@code Allow} header
         */
        record OtherMethod<R>(Set<String> allowed) implements Match<R> {}

        record Nothing<R>() implements Match<R> {}
    }

    private static final class Node<R> {
        final Map<String, Node<R>> literals = new HashMap<>();

        @Nullable
        Node<R> named;

        final Map<String, R> here = new HashMap<>();
        final Map<String, R> rest = new HashMap<>();
    }

    private static final String ANY = "*";
    /** One of the routes for any host, where they are all of one issuer; else null. */
    private final @Nullable R oneAtAnyHost;

    /** @param entries route → what stands behind it; no two may share a shape and a method */
    public RouteTable(Map<Route, R> entries) {
        Map<String, Node<R>> anyOfIssuer = new HashMap<>();
        entries.forEach((route, behind) -> {
            String host = route.pattern().host();
            if (!host.isEmpty()) {
                Node<R> any = anyOfIssuer.computeIfAbsent(route.issuerId(), fresh -> new Node<>());
                add(
                        byHost.computeIfAbsent(host, fresh -> new Hosted<>(new Node<>(), any, behind))
                                .named(),
                        route,
                        behind);
            } else {
                add(anyHost, route, behind);
            }
        });
        List<Route> atAnyHost = entries.keySet().stream()
                .filter(route -> route.pattern().host().isEmpty())
                .toList();
        oneAtAnyHost = atAnyHost.stream().map(Route::issuerId).distinct().count() == 1
                ? entries.get(atAnyHost.getFirst())
                : null;
        entries.forEach((route, behind) -> {
            if (route.pattern().host().isEmpty() && anyOfIssuer.containsKey(route.issuerId()))
                add(anyOfIssuer.get(route.issuerId()), route, behind);
        });
    }

    private static <R> void add(Node<R> root, Route route, R behind) {
        Node<R> node = root;
        Map<String, R> byMethod = null;
        for (PathPattern.Part part : route.pattern().parts()) {
            switch (part) {
                case PathPattern.Part.Literal(String text) ->
                    node = node.literals.computeIfAbsent(text, fresh -> new Node<>());
                case PathPattern.Part.Named named -> {
                    if (node.named == null) node.named = new Node<>();
                    node = node.named;
                }
                case PathPattern.Part.Rest rest -> byMethod = node.rest;
            }
        }
        if (byMethod == null) byMethod = node.here;
        for (String method : route.methods().isEmpty() ? Set.of(ANY) : route.methods()) {
            if (byMethod.put(method, behind) != null) {
                throw new IllegalArgumentException("two routes for " + method + " " + route.pattern());
            }
        }
    }

    /**
     * @param host that the request is for, in lower case and without a port
     * @param segments decoded
     */
    public Match<R> match(String method, String host, List<String> segments) {
        Hosted<R> hosted = byHost.isEmpty() ? null : byHost.get(host);
        R found = hosted == null ? find(anyHost, method, segments, 0) : find(hosted.named(), method, segments, 0);
        if (found == null && hosted != null) found = find(hosted.any(), method, segments, 0);
        if (found != null) return new Match.Found<>(found);
        Set<String> allowed = new TreeSet<>();
        if (hosted == null) {
            collect(anyHost, segments, 0, allowed);
        } else {
            collect(hosted.named(), segments, 0, allowed);
            collect(hosted.any(), segments, 0, allowed);
        }
        return allowed.isEmpty() ? new Match.Nothing<>() : new Match.OtherMethod<>(allowed);
    }

    /**
     * One of the routes at a host, where all of them are of one issuer: what is requested there without a match is that
     * issuer's to know.
     */
    public Optional<R> oneAt(String host) {
        Hosted<R> hosted = byHost.get(host);
        return hosted == null ? Optional.ofNullable(oneAtAnyHost) : Optional.of(hosted.one());
    }

    private @Nullable R find(Node<R> node, String method, List<String> segments, int depth) {
        if (depth == segments.size()) {
            R here = pick(node.here, method);
            return here != null ? here : pick(node.rest, method);
        }
        String segment = segments.get(depth);
        Node<R> literal = node.literals.get(segment);
        if (literal != null) {
            R found = find(literal, method, segments, depth + 1);
            if (found != null) return found;
        }
        if (node.named != null && !segment.isEmpty()) {
            R found = find(node.named, method, segments, depth + 1);
            if (found != null) return found;
        }
        return pick(node.rest, method);
    }

    private @Nullable R pick(Map<String, R> byMethod, String method) {
        if (byMethod.isEmpty()) return null;
        R exact = byMethod.get(method);
        if (exact != null) return exact;
        if (method.equals("HEAD") && byMethod.containsKey("GET")) return byMethod.get("GET");
        // TRACE would show a caller the headers that the backend got; CONNECT is for another kind of proxy.
        return method.equals("TRACE") || method.equals("CONNECT") ? null : byMethod.get(ANY);
    }

    private void collect(Node<R> node, List<String> segments, int depth, Set<String> allowed) {
        allowed.addAll(node.rest.keySet());
        if (depth == segments.size()) {
            allowed.addAll(node.here.keySet());
        } else {
            Node<R> literal = node.literals.get(segments.get(depth));
            if (literal != null) collect(literal, segments, depth + 1, allowed);
            if (node.named != null && !segments.get(depth).isEmpty()) collect(node.named, segments, depth + 1, allowed);
        }
        if (allowed.contains("GET")) allowed.add("HEAD");
        if (allowed.remove(ANY)) allowed.addAll(List.of("DELETE", "GET", "HEAD", "OPTIONS", "PATCH", "POST", "PUT"));
    }
}
