package dev.admit.core.token;

import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;

/** The revocations in force, held in memory so that each request can be checked against them. */
public final class Revocations {
    private final ConcurrentHashMap<String, OfClient> byClient = new ConcurrentHashMap<>();

    /** Immutable, so that a check sees all of a change or nothing. */
    private record OfClient(long all, Map<String, Long> byScope, Instant dropAt) {
        static final OfClient NONE = new OfClient(0, Map.of(), Instant.MIN);

        OfClient with(Revocation revocation) {
            Instant later = revocation.dropAt().isAfter(dropAt) ? revocation.dropAt() : dropAt;
            if (revocation.scope().isEmpty()) return new OfClient(Math.max(all, revocation.before()), byScope, later);
            Map<String, Long> scopes = new HashMap<>(byScope);
            scopes.merge(revocation.scope().get(), revocation.before(), Math::max);
            return new OfClient(all, Map.copyOf(scopes), later);
        }
    }

    public void add(Revocation revocation) {
        byClient.compute(revocation.clientId(), (id, before) -> (before == null ? OfClient.NONE : before).with(revocation));
    }

    /** What ends this token, as a phrase; empty while it holds. */
    public Optional<String> ending(String clientId, TokenId id, List<String> scopes) {
        OfClient ended = byClient.get(clientId);
        if (ended == null) return Optional.empty();
        if (id.order() < ended.all()) return Optional.of("everything given to this client before was revoked");
        for (String scope : scopes) {
            Long before = ended.byScope().get(scope);
            if (before != null && id.order() < before) return Optional.of("the approval of " + scope + " was withdrawn after it was minted");
        }
        return Optional.empty();
    }

    /** Lets go of what no living token can be meant by any more. */
    public void drop(Instant now) {
        byClient.values().removeIf(ended -> ended.dropAt().isBefore(now));
    }
}
