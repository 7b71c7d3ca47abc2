package dev.admit.core.selfregistration;

import dev.admit.core.registry.SecretHash;
import java.time.Instant;
import java.util.Map;

/**
 * How a client registered itself.
 *
 * @param by the label of the initial access token; empty for none
 * @param limits that it keeps to when it changes
 * @param more of its metadata what Admit keeps and does not look at: client_uri, logo_uri, policy_uri, tos_uri,
 *     software_id, software_version
 * @param token with which it manages its registration (RFC 7592 §3)
 */
public record SelfRegistration(
        String clientId,
        String issuerId,
        String by,
        Limits limits,
        Map<String, String> more,
        SecretHash token,
        Instant registeredAt,
        String from) {
    SelfRegistration with(Map<String, String> otherMore, SecretHash otherToken) {
        return new SelfRegistration(clientId, issuerId, by, limits, otherMore, otherToken, registeredAt, from);
    }
}
