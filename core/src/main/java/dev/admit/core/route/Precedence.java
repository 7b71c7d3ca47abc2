package dev.admit.core.route;

import dev.admit.core.route.PathPattern.Part;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;

/**
 * Which of several routes that fit answers, and why: one for the request's host goes before one for any; then segment
 * by segment from the left, what stands there goes before {@code {name}}, which goes before {@code /**}; on the same
 * path a named method goes before any. {@link RouteTable} finds by it; here it is told.
 */
public final class Precedence {
    private Precedence() {}

    /** The first answers. Only of use among routes that one path fits. */
    public static final Comparator<Route> ORDER = (one, other) -> {
        if (one.pattern().host().isEmpty() != other.pattern().host().isEmpty())
            return one.pattern().host().isEmpty() ? 1 : -1;
        List<Part> mine = one.pattern().parts();
        List<Part> its = other.pattern().parts();
        for (int i = 0; i < Math.max(mine.size(), its.size()); i++) {
            int difference = rank(mine, i) - rank(its, i);
            if (difference != 0) return difference;
        }
        return Boolean.compare(one.methods().isEmpty(), other.methods().isEmpty());
    };

    /** A path that ends here goes before one that goes on with {@code /**}. */
    private static int rank(List<Part> parts, int at) {
        if (at >= parts.size()) return 0;
        return switch (parts.get(at)) {
            case Part.Literal literal -> 0;
            case Part.Named named -> 1;
            case Part.Rest rest -> 2;
        };
    }

    /** Why the first goes before the second, as a clause. */
    public static String why(Route first, Route second) {
        if (first.pattern().host().isEmpty() != second.pattern().host().isEmpty())
            return "it names the host, and the other takes any";
        List<Part> mine = first.pattern().parts();
        List<Part> its = second.pattern().parts();
        for (int i = 0; i < Math.max(mine.size(), its.size()); i++) {
            if (rank(mine, i) != rank(its, i))
                return "at segment %d it has %s, and the other %s".formatted(i + 1, words(mine, i), words(its, i));
        }
        return first.methods().isEmpty() == second.methods().isEmpty()
                ? "the paths are the same"
                : "it names the method, and the other takes any";
    }

    private static String words(List<Part> parts, int at) {
        if (at >= parts.size()) return "its end";
        return switch (parts.get(at)) {
            case Part.Literal(String text) -> "'" + text + "'";
            case Part.Named(String name) -> "{" + name + "}";
            case Part.Rest rest -> "/**";
        };
    }

    /**
     * What to say when a route is saved beside others that some of its requests fit as well; at most one for each of
     * them.
     */
    static List<String> overlaps(Route route, List<Route> others) {
        return others.stream()
                .filter(it ->
                        !it.id().equals(route.id()) && it.pattern().overlaps(route.pattern()) && shareMethod(route, it))
                .map(other -> {
                    boolean first = ORDER.compare(route, other) < 0;
                    Route before = first ? route : other;
                    Route after = first ? other : route;
                    return "%s fits some of the same requests; there %s answers: %s."
                            .formatted(other.label(), first ? "this one" : "that one", why(before, after));
                })
                .limit(5)
                .toList();
    }

    /** A segment that no route has. */
    private static final String WORD = "~any~";

    /**
     * What to say when a route is saved and it, or another that it is in the way of, is no longer reached by anything.
     */
    static List<String> unreached(Route route, List<Route> all) {
        return all.stream()
                .filter(it ->
                        it.id().equals(route.id()) || it.pattern().overlaps(route.pattern()) && shareMethod(it, route))
                .limit(200)
                .filter(it -> !isReached(it, all))
                .map(it -> ("%s is never reached: more specific routes answer all that fits it, but for a path that "
                                + "ends in a slash.")
                        .formatted(it.id().equals(route.id()) ? "This route" : it.label()))
                .toList();
    }

    /**
     * Whether some path, with one of its methods, is answered by it: with words in its places that no other route has,
     * and a rest of several lengths.
     */
    static boolean isReached(Route route, List<Route> all) {
        for (int rest : new int[] {0, 1, 2, 12}) {
            List<String> path = new ArrayList<>();
            for (Part part : route.pattern().parts()) {
                switch (part) {
                    case Part.Literal(String text) -> path.add(text);
                    case Part.Named named -> path.add(WORD);
                    case Part.Rest open -> path.addAll(Collections.nCopies(rest, WORD));
                }
            }
            List<Route> fitting = all.stream()
                    .filter(it -> it.pattern().fits(route.pattern().host(), path))
                    .sorted(ORDER)
                    .toList();
            for (String method : route.methods().isEmpty() ? List.of("PROPFIND", "GET", "POST") : route.methods()) {
                if (fitting.stream()
                        .filter(it -> takes(it, method))
                        .findFirst()
                        .filter(it -> it.id().equals(route.id()))
                        .isPresent()) return true;
            }
        }
        return false;
    }

    private static boolean shareMethod(Route one, Route other) {
        return one.methods().isEmpty()
                || other.methods().isEmpty()
                || one.methods().stream().anyMatch(other.methods()::contains);
    }

    /**
     * Which route answers a method and path.
     *
     * @param answers empty when none does
     * @param behind those that fit as well, in order, each with why it comes after the one before
     * @param methods of routes that fit the path with other methods
     */
    public record Tried(Optional<Route> answers, List<Behind> behind, List<Route> methods) {}

    public record Behind(Route route, String why) {}

    /**
     * @param routes all that may answer
     * @param host that the request is for
     * @param segments of the path, decoded
     */
    public static Tried trying(List<Route> routes, String method, String host, List<String> segments) {
        List<Route> fitting = routes.stream()
                .filter(it -> it.pattern().fits(host, segments))
                .sorted(ORDER)
                .toList();
        List<Route> answering = fitting.stream().filter(it -> takes(it, method)).toList();
        List<Behind> behind = new ArrayList<>();
        for (int i = 1; i < answering.size(); i++)
            behind.add(new Behind(answering.get(i), why(answering.get(i - 1), answering.get(i))));
        return new Tried(
                answering.stream().findFirst(),
                behind,
                fitting.stream().filter(it -> !takes(it, method)).toList());
    }

    private static boolean takes(Route route, String method) {
        if (route.methods().isEmpty()) return !method.equals("TRACE") && !method.equals("CONNECT");
        return route.methods().contains(method)
                || method.equals("HEAD") && route.methods().contains("GET");
    }
}
