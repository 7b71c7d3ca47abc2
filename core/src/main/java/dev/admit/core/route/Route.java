package dev.admit.core.route;

import java.net.URI;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.SortedSet;

/**
 * Method + path pattern → what is checked → where it goes or what is answered.
 *
 * @param methods empty for any method
 * @param cors whether pages of the issuer's browser clients may call it from their own origin
 */
public record Route(
        String id,
        String issuerId,
        SortedSet<String> methods,
        PathPattern pattern,
        Guard guard,
        Target target,
        Transform transform,
        Timeouts timeouts,
        Limits limits,
        boolean cors,
        long version,
        Instant createdAt) {

    /** Who may pass. */
    public sealed interface Guard {
        /** Anyone, without a token. */
        record Open() implements Guard {}

        /**
         * The one who has a token for the API.
         *
         * @param scopes names; none only where that was said on purpose
         * @param any whether one of the scopes is enough
         * @param who what else must be so
         */
        record Token(String apiId, List<String> scopes, boolean any, Who who) implements Guard {}
    }

    /** Where a request that passed goes. */
    public sealed interface Target {
        /** @param base where the whole path is appended; empty for the API's own upstream */
        record Upstream(Optional<URI> base) implements Target {}

        /** The gateway's own answer. */
        record FixedResponse(int status, String contentType, String body) implements Target {}
    }

    /**
     * Whether one request could be meant for both: the same shape, and a method in common that both name, or none named
     * by either.
     */
    boolean clashesWith(Route other) {
        boolean bothAny = methods.isEmpty() && other.methods.isEmpty();
        return !id.equals(other.id)
                && pattern.shape().equals(other.pattern.shape())
                && (bothAny || methods.stream().anyMatch(other.methods::contains));
    }

    /**
     * Whether a route of one issuer would take something from a route of another: its host, or, where neither names
     * one, a path.
     */
    boolean takesFrom(Route other) {
        if (issuerId.equals(other.issuerId)) return false;
        boolean anyHost = pattern.host().isEmpty() && other.pattern.host().isEmpty();
        // A browser's session at a host goes along with whatever is there: so only one issuer signs people in at the
        // host that all share.
        if (anyHost && signsIn() && other.signsIn()) return true;
        return anyHost ? pattern.overlaps(other.pattern) : pattern.host().equals(other.pattern.host());
    }

    /** Whether browsers that come without a token are signed in. */
    public boolean signsIn() {
        return guard instanceof Guard.Token token && token.who().signIn().isPresent();
    }

    /** The same route, at another version. */
    Route versioned(long other) {
        return new Route(
                id, issuerId, methods, pattern, guard, target, transform, timeouts, limits, cors, other, createdAt);
    }

    /** The API whose tokens it wants, if any. */
    public Optional<String> apiId() {
        return guard instanceof Guard.Token token ? Optional.of(token.apiId()) : Optional.empty();
    }

    /** {@code GET,HEAD /tides/**}, or {@code /tides/**} for any method: how people name a route. */
    public String label() {
        return label(methods, pattern.toString());
    }

    static String label(Collection<String> methods, String path) {
        return methods.isEmpty() ? path : String.join(",", methods) + " " + path;
    }
}
