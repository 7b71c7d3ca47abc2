package dev.admit.core.token;

import java.time.Instant;
import java.util.Optional;

/**
 * Tokens that no longer hold, minted before a cut-off.
 *
 * @param before the cut-off, as {@link TokenId#order}
 * @param dropAt when no token so old can be active any more
 */
public record Revocation(Meant meant, long before, Instant dropAt) {

    /** Which tokens. */
    public sealed interface Meant {
        /** @param scope empty for every token of the client */
        record OfClient(String clientId, Optional<String> scope) implements Meant {}

        /** Every token for an API, the one who holds it. */
        record ForApi(String issuerId, String audience) implements Meant {}

        record One(TokenId id) implements Meant {}

        /**
         * On a person's behalf.
         *
         * @param clientId empty for whichever holds it
         * @param scope empty for whatever it permits
         */
        record OfPerson(String personId, Optional<String> clientId, Optional<String> scope) implements Meant {}

        /** On anyone's behalf, with this scope. */
        record OfPeople(String issuerId, String scope) implements Meant {}

        /** Given while a person was signed in in one place. */
        record OfSession(String sessionId) implements Meant {}

        /** All that one authorization led to. */
        record OfGrant(String grantId) implements Meant {}
    }
}
