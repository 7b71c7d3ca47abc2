package dev.admit.core.authorization;

import dev.admit.core.registry.SecretHash;
import java.time.Duration;
import java.time.Instant;
import java.util.Optional;

/** The requests of devices that are kept. */
public interface DeviceRequests {
    void insert(DeviceRequest request);

    Optional<DeviceRequest> find(SecretHash hash);

    /** One that waits for an answer. */
    Optional<DeviceRequest> waiting(String issuerId, String userCode, Instant now);

    void polled(SecretHash hash, Instant now, Duration interval);

    /**
     * Settles one that waits.
     *
     * @return whether this call did
     */
    boolean answer(SecretHash hash, DeviceRequest.Status status, Optional<String> grantId);

    /**
     * Redeems one that was approved.
     *
     * @return whether this call did
     */
    boolean claim(SecretHash hash);

    int drop(Instant before);
}
