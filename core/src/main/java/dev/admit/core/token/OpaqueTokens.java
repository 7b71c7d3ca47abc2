package dev.admit.core.token;

import dev.admit.core.registry.SecretHash;
import java.time.Instant;
import java.util.Optional;

/** The opaque tokens that are kept. */
public interface OpaqueTokens {
    void insert(OpaqueToken token);

    Optional<OpaqueToken> find(SecretHash hash);

    int drop(Instant now);
}
