package dev.admit.core.authorization;

import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * All that one authorization by a person leads to: a code, refresh tokens, access tokens. It ends as one.
 *
 * @param sessionId of the sign-in it ends with; empty where it goes on without one ({@code offline_access})
 * @param scopes as they were given then; what a token gets of them is settled each time
 * @param resources audiences that tokens may be for, the usual one first; the issuer's own URL where there is no API
 * @param authTime when the person signed in
 * @param methods how (RFC 8176)
 * @param endsAt nothing is refreshed after that
 * @param endedAt when it was ended before its time
 */
public record AuthorizationGrant(
        String id,
        String issuerId,
        String clientId,
        String personId,
        Optional<String> sessionId,
        List<String> scopes,
        List<String> resources,
        Optional<String> nonce,
        Instant authTime,
        List<String> methods,
        Instant startedAt,
        Instant endsAt,
        Optional<Instant> endedAt) {

    public boolean isOverAt(Instant now) {
        return endedAt.isPresent() || !now.isBefore(endsAt);
    }
}
