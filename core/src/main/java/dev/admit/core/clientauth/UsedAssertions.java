package dev.admit.core.clientauth;

import java.time.Instant;

/** Which client assertions opened the door already, so that none does twice. */
public interface UsedAssertions {

    /**
     * @return whether it was not claimed before.
     * @param until when the assertion expires, and the note of it can go
     */
    boolean claim(String clientId, String jti, Instant until);

    int drop(Instant now);
}
