package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.time.Instant;
import java.util.Map;

/**
 * How a client registered itself.
 *
 * @param by the label of the initial access token; empty for none
 * @param address from which it registered
 * @param more what it says of itself and nobody checked: client_uri, software_id and the like
 */
public record SelfRegistrationView(
        String by,
        String address,
        @JsonProperty("registered_at") Instant registeredAt,
        Map<String, String> more) {}
