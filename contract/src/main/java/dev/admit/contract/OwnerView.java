package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.time.Instant;

/**
 * A person who answers for an API or a client.
 *
 * @param kind API or client
 * @param name of it
 */
public record OwnerView(
        String person,
        String email,
        String kind,
        String name,
        Instant since,
        @JsonProperty("named_by") String namedBy) {}
