package dev.admit.core.registry;

import java.net.URI;
import java.time.Instant;
import java.util.Optional;

/**
 * A protected resource server.
 *
 * @param audience the resource indicator (RFC 8707) and the {@code aud} of its tokens, as an exact string
 * @param upstream the base address that its routes forward to when they name none of their own
 * @param minting how its tokens are made
 * @param allByDefault whether a request that names no scope gets every scope that the client is approved for (RFC 6749
 *     §3.3)
 */
public record Api(
        String id,
        String issuerId,
        String name,
        String title,
        String audience,
        Optional<URI> upstream,
        Minting minting,
        boolean allByDefault,
        long version,
        Instant createdAt) {

    /** One whose scopes say themselves whether they are given by default, as is usual. */
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
        this(id, issuerId, name, title, audience, upstream, minting, false, version, createdAt);
    }

    public Api minting(Minting other) {
        return new Api(id, issuerId, name, title, audience, upstream, other, allByDefault, version + 1, createdAt);
    }
}
