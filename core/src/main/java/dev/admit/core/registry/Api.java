package dev.admit.core.registry;

import java.net.URI;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * A protected resource server.
 *
 * @param audience the resource indicator (RFC 8707) and the {@code aud} of its tokens, as an exact string
 * @param upstream the base address that its routes forward to when they name none of their own
 * @param minting how its tokens are made
 * @param defaultScopes names of its scopes: what a request gets of them that names none (RFC 6749 §3.3)
 * @param allByDefault whether a request that names no scope gets every scope that the client is approved for
 */
public record Api(
        String id,
        String issuerId,
        String name,
        String title,
        String audience,
        Optional<URI> upstream,
        Minting minting,
        List<String> defaultScopes,
        boolean allByDefault,
        long version,
        Instant createdAt) {

    /** One without default scopes. */
    public Api(
            String id,
            String issuerId,
            String name,
            String title,
            String audience,
            Optional<URI> upstream,
            Minting minting,
            long version,
            Instant createdAt) {
        this(id, issuerId, name, title, audience, upstream, minting, List.of(), false, version, createdAt);
    }

    public Api minting(Minting other) {
        return new Api(
                id,
                issuerId,
                name,
                title,
                audience,
                upstream,
                other,
                defaultScopes,
                allByDefault,
                version + 1,
                createdAt);
    }

    /** The same API, one of its default scopes gone. */
    public Api withoutDefaultScope(String scope) {
        List<String> rest =
                defaultScopes.stream().filter(it -> !it.equals(scope)).toList();
        return new Api(
                id, issuerId, name, title, audience, upstream, minting, rest, allByDefault, version + 1, createdAt);
    }

    /** Whether a request that names no scope gets this one, which is the API's and approved for the client. */
    public boolean grantsByDefault(Scope scope) {
        return allByDefault || defaultScopes.contains(scope.name());
    }
}
