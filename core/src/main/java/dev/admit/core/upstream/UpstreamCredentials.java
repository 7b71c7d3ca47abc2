package dev.admit.core.upstream;

import java.util.List;
import java.util.Optional;

/** The upstream credentials of every issuer, with their sealed secrets. */
public interface UpstreamCredentials {
    /** One with its secret as it is kept. */
    record Stored(UpstreamCredential credential, byte[] sealed) {}

    void insert(Stored it);

    void update(Stored it);

    void delete(String id);

    /** @param name or id */
    Optional<Stored> named(String issuerId, String name);

    List<Stored> of(String issuerId);
}
