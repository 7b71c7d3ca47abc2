package dev.admit.core.token;

import java.time.Instant;
import java.util.List;

/** The revocations on disk, written together with what they follow from. */
public interface StoredRevocations {
    void insert(Revocation revocation);

    List<Revocation> all();

    int drop(Instant now);
}
