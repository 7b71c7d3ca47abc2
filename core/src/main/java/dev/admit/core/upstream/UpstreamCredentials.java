package dev.admit.core.upstream;

import java.util.List;
import java.util.Optional;

/** The upstream credentials of every issuer, with their sealed secrets. */
public interface UpstreamCredentials {
    /** One with its secret as it is kept. */
    record Kept(UpstreamCredential credential, byte[] sealed) {}

    void insert(Kept it);

    void update(Kept it);

    void delete(String id);

    /** @param name or id */
    Optional<Kept> named(String issuerId, String name);

    List<Kept> of(String issuerId);
}
