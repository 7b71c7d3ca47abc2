package dev.admit.core.signin;

import dev.admit.core.registry.SecretHash;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/** The sessions that are kept. One that is over is none. */
public interface Sessions {
    void insert(Session session);

    Optional<Session> find(String sessionId, Instant now);

    /** Of one browser at one issuer, the latest sign-in first. */
    List<Session> ofBrowser(String issuerId, SecretHash browser, Instant now);

    List<Session> ofPerson(String personId, Instant now);

    /** All that is signed in under one cookie is signed in under another from now on, and under the old one no more. */
    void move(SecretHash from, SecretHash to);

    /** It was used; it ends so much later, but never more than so long after it began. */
    void seen(String sessionId, Instant now, Instant idleUntil, Duration longest);

    /** The person proved themselves again. */
    void proven(String sessionId, Instant authTime, List<String> methods);

    void delete(String sessionId);

    int drop(Instant before);
}
