package dev.admit.core.registry;

import java.net.URI;
import java.time.Instant;
import java.util.Optional;

/**
 * A protected resource server.
 *
 * @param audience the resource indicator (RFC 8707) and the {@code aud} of its tokens, as an exact string
 * @param upstream the base address that its routes forward to when they name none of their own
 * @param minting  how its tokens are made
 */
public record Api(String id, String issuerId, String name, String title, String audience, Optional<URI> upstream, Minting minting,
                  long version, Instant createdAt) {

    public Api minting(Minting other) {
        return new Api(id, issuerId, name, title, audience, upstream, other, version + 1, createdAt);
    }
}
