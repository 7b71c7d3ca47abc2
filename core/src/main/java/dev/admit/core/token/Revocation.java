package dev.admit.core.token;

import java.time.Instant;
import java.util.Optional;

/**
 * Tokens that no longer hold, minted before a cut-off.
 *
 * @param before the cut-off, as {@link TokenId#order}
 * @param dropAt when no token so old can be alive any more
 */
public record Revocation(Meant meant, long before, Instant dropAt) {

    /** Which tokens. */
    public sealed interface Meant {
        /** @param scope empty for every token of the client */
        record OfClient(String clientId, Optional<String> scope) implements Meant {}

        /** Every token for an API, whoever holds it. */
        record ForApi(String issuerId, String audience) implements Meant {}

        record One(TokenId id) implements Meant {}
    }
}
