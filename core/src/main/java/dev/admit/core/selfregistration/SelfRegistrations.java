package dev.admit.core.selfregistration;

import dev.admit.core.registry.SecretHash;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/** Policies, initial access tokens and self-registered clients, as they are kept. */
public interface SelfRegistrations {
    Optional<RegistrationPolicy> policy(String issuerId);

    /** In the place of the one before. */
    void put(RegistrationPolicy policy);

    void insert(InitialAccessToken token);

    /** The newest first. */
    List<InitialAccessToken> tokensOf(String issuerId);

    Optional<InitialAccessToken> token(String issuerId, SecretHash hash);

    /**
     * Takes one use, if one is left: of two that come at once for the last one, one wins.
     *
     * @return whether one was left
     */
    boolean use(String tokenId, Instant now);

    boolean deleteToken(String issuerId, String tokenId);

    void insert(SelfRegistration it);

    /** Ends with the client. */
    Optional<SelfRegistration> of(String clientId);

    /**
     * Puts a changed one in the place of the one that has this token.
     *
     * @return whether it still had it
     */
    boolean replace(SelfRegistration changed, SecretHash before);

    /** How many clients of an issuer registered themselves and were never used or approved. */
    int unused(String issuerId);

    /** Ids of clients that registered themselves before, and were never used or approved. */
    List<String> unusedSince(Instant before);
}
