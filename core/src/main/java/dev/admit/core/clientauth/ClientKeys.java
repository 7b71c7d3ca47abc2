package dev.admit.core.clientauth;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import com.nimbusds.jose.jwk.JWKSet;
import dev.admit.core.registry.Client;
import java.net.URI;
import java.text.ParseException;
import java.time.Duration;
import java.time.Instant;
import java.util.Optional;

/**
 * The public keys that clients prove themselves with: as registered, or from where the client publishes them. What was
 * fetched is remembered for a while; an id that is not in it has it fetched anew, but not more often than once a
 * minute.
 */
public final class ClientKeys {
    private static final Duration REMEMBERED = Duration.ofMinutes(10);
    private static final Duration BETWEEN = Duration.ofMinutes(1);

    /**
     * Fetches a key set from an address that a client names: bounded in time and size, and not from inner addresses.
     */
    public interface Fetch {
        /** @return the JSON, or empty when it could not or may not be fetched */
        Optional<String> keysAt(URI address);
    }

    private record Fetched(Optional<JWKSet> keys, Instant at) {}

    private final Fetch fetch;
    private final Cache<URI, Fetched> fetched = Caffeine.newBuilder()
            .maximumSize(10_000)
            .expireAfterWrite(REMEMBERED)
            .build();
    private final Cache<String, JWKSet> registered =
            Caffeine.newBuilder().maximumSize(10_000).build();

    public ClientKeys(Fetch fetch) {
        this.fetch = fetch;
    }

    /**
     * Makes the keys ready, which may take as long as a fetch. To be called before anything is locked.
     *
     * @param kid the id in the assertion's header, not yet known to be true
     */
    void prepare(Client client, Optional<String> kid, Instant now) {
        if (client.proof().jwksUri().isEmpty()) return;
        URI address = client.proof().jwksUri().get();
        Fetched known = fetched.getIfPresent(address);
        boolean lacking = known == null
                || known.keys().isEmpty()
                || kid.filter(id -> known.keys().get().getKeyByKeyId(id) == null)
                        .isPresent();
        if (!lacking || known != null && now.isBefore(known.at().plus(BETWEEN))) return;
        // One at a time for each address; the one who comes meanwhile waits for that one.
        fetched.asMap()
                .compute(
                        address,
                        (uri, before) ->
                                before != null && now.isBefore(before.at().plus(BETWEEN))
                                        ? before
                                        : new Fetched(fetch.keysAt(uri).flatMap(ClientKeys::parse), now));
    }

    /** What is ready; never fetches. */
    Optional<JWKSet> of(Client client) {
        if (client.proof().jwksUri().isPresent())
            return Optional.ofNullable(
                            fetched.getIfPresent(client.proof().jwksUri().get()))
                    .flatMap(Fetched::keys);
        return client.proof()
                .jwks()
                .map(text -> registered.get(text, it -> parse(it).orElseThrow()));
    }

    private static Optional<JWKSet> parse(String json) {
        try {
            return Optional.of(JWKSet.parse(json).toPublicJWKSet());
        } catch (ParseException | RuntimeException none) {
            return Optional.empty();
        }
    }
}
