package dev.admit.core.token;

import java.time.Instant;
import java.util.Optional;

/**
 * Tokens that no longer hold: those of a client, or of a client and a scope, minted before a cut-off.
 *
 * @param scope   empty for every token of the client
 * @param before  the cut-off, as {@link TokenId#order}
 * @param dropAt  when no token so old can be alive any more
 */
public record Revocation(String clientId, Optional<String> scope, long before, Instant dropAt) {}
