package dev.admit.core.openapi;

import dev.admit.core.route.Route;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;

/**
 * What a caller must bring, as a route can ask it.
 *
 * @param open nothing at all
 * @param scopes none: any token
 * @param any whether one of them is enough
 */
public record Wants(boolean open, Set<String> scopes, boolean any) {
    private static final Wants ANY_TOKEN = new Wants(false, Set.of(), false);

    public Wants {
        scopes = new TreeSet<>(scopes);
        any = any && scopes.size() > 1;
    }

    /**
     * What an operation asks. Where a document says nothing, a token is wanted; where a route cannot tell its
     * alternatives apart, all of them together.
     */
    public static Wants of(OpenApiDocument.Security security) {
        return switch (security) {
            case OpenApiDocument.Security.Open open -> new Wants(true, Set.of(), false);
            case OpenApiDocument.Security.Unsaid unsaid -> ANY_TOKEN;
            case OpenApiDocument.Security.Token(List<List<String>> alternatives) -> {
                Set<String> all = new TreeSet<>();
                alternatives.forEach(all::addAll);
                if (alternatives.stream().anyMatch(List::isEmpty)) yield ANY_TOKEN;
                yield new Wants(false, all, alternatives.size() > 1 && isTold(alternatives));
            }
        };
    }

    public static Wants of(Route route) {
        return switch (route.guard()) {
            case Route.Guard.Open open -> new Wants(true, Set.of(), false);
            case Route.Guard.Token token -> new Wants(false, Set.copyOf(token.scopes()), token.any());
        };
    }

    /** Whether someone passes here whom the other refuses. */
    public boolean letsMorePassThan(Wants other) {
        if (other.open) return false;
        if (open) return true;
        if (other.scopes.isEmpty()) return false;
        if (scopes.isEmpty()) return true;
        boolean within = other.any
                ? any ? other.scopes.containsAll(scopes) : scopes.stream().anyMatch(other.scopes::contains)
                : !any && scopes.containsAll(other.scopes);
        return !within;
    }

    /** Whether a route can ask for one of these: each is one scope. */
    public static boolean isTold(List<List<String>> alternatives) {
        return alternatives.size() < 2 || alternatives.stream().allMatch(it -> it.size() == 1);
    }

    /** {@code tides.read and tides.publish}. */
    @Override
    public String toString() {
        if (open) return "nothing";
        return scopes.isEmpty() ? "any token" : String.join(any ? " or " : " and ", scopes);
    }
}
