package dev.admit.core.authorization;

import dev.admit.core.registry.SecretHash;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/** The grants that are kept, with their codes and refresh tokens. */
public interface AuthorizationGrants {
    void insert(AuthorizationGrant grant);

    Optional<AuthorizationGrant> find(String grantId);

    /** Those that are not over, the newest first. */
    List<AuthorizationGrant> ofPerson(String personId, Instant now);

    /** Nothing is refreshed any more. */
    void end(String grantId, Instant now);

    /** @param clientId empty for whichever client */
    void endOfPerson(String personId, Optional<String> clientId, Instant now);

    void insert(IssuedCode code);

    Optional<IssuedCode> code(SecretHash hash);

    /**
     * Uses a code up.
     *
     * @return whether this call did: of two that race one wins (RFC 6749 §4.1.2)
     */
    boolean claimCode(SecretHash hash, Instant now);

    void insert(RefreshToken token);

    Optional<RefreshToken> refreshToken(SecretHash hash);

    /**
     * Uses a refresh token up.
     *
     * @return whether this call did
     */
    boolean claimRefreshToken(SecretHash hash, Instant now);

    /**
     * Puts those of a grant that are not used out of use; one that comes all the same is misused.
     *
     * @return how many
     */
    int supersede(String grantId);

    /** Whether one of a grant was issued and used since; one that was superseded was not. */
    boolean isSuccessorUsed(String grantId, Instant since);

    /** Lets go of what ended before a time. */
    int drop(Instant before);
}
