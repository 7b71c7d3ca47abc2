package dev.admit.core.route;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;

/**
 * Finds the one route for a method and a path, most specific first: segment by segment from the left, a literal
 * goes before {@code {name}}, which goes before {@code /**}; on the same pattern a named method goes before any.
 * GET routes also answer HEAD. Immutable once built; the cost of a match hangs on the depth of the path, not on
 * the number of routes.
 *
 * @param <R> what stands behind a route
 */
public final class RouteTable<R> {
    private final Node<R> root = new Node<>();

    public sealed interface Match<R> {
        record Found<R>(R route) implements Match<R> {}

        /** The path exists with other methods. @param allowed those, sorted, for the {@code Allow} header */
        record OtherMethod<R>(Set<String> allowed) implements Match<R> {}

        record Nothing<R>() implements Match<R> {}
    }

    private static final class Node<R> {
        final Map<String, Node<R>> literals = new HashMap<>();
        Node<R> named;
        final Map<String, R> here = new HashMap<>();
        final Map<String, R> rest = new HashMap<>();
    }

    private static final String ANY = "*";

    /** @param entries route → what stands behind it; no two may share a shape and a method */
    public RouteTable(Map<Route, R> entries) {
        entries.forEach(this::add);
    }

    private void add(Route route, R behind) {
        Node<R> node = root;
        Map<String, R> byMethod = null;
        for (PathPattern.Part part : route.pattern().parts()) {
            switch (part) {
                case PathPattern.Part.Literal(String text) -> node = node.literals.computeIfAbsent(text, fresh -> new Node<>());
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

    public Match<R> match(String method, List<String> segments) {
        R found = find(root, method, segments, 0);
        if (found != null) return new Match.Found<>(found);
        Set<String> allowed = new TreeSet<>();
        collect(root, segments, 0, allowed);
        return allowed.isEmpty() ? new Match.Nothing<>() : new Match.OtherMethod<>(allowed);
    }

    private R find(Node<R> node, String method, List<String> segments, int depth) {
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

    private R pick(Map<String, R> byMethod, String method) {
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
