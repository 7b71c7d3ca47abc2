package dev.admit.core.trust;

import java.time.Instant;
import java.util.List;
import java.util.Optional;

/** The trusted issuers of every issuer, and the keys that were last found of each. */
public interface TrustedIssuers {
    void insert(TrustedIssuer it);

    /** Lets go of the keys that were found, when {@code found} is no longer where they are looked for. */
    void update(TrustedIssuer it, boolean found);

    void delete(String id);

    /** @param name or id */
    Optional<TrustedIssuer> named(String issuerId, String name);

    List<TrustedIssuer> of(String issuerId);

    /**
     * @param jwks as JSON
     * @param at when it was fetched
     */
    record Found(String jwks, Instant at) {}

    void keep(String id, Found found);

    Optional<Found> found(String id);
}
