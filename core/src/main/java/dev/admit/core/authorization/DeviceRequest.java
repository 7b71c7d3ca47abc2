package dev.admit.core.authorization;

import dev.admit.core.registry.SecretHash;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * What a device without a browser wants, waiting for a person (RFC 8628 §3.2).
 *
 * @param hash of the device code
 * @param userCode what the person types, without the hyphen
 * @param grantId what the person's yes made
 * @param interval the shortest time between two questions of the device
 */
public record DeviceRequest(
        SecretHash hash,
        String userCode,
        String issuerId,
        String clientId,
        List<String> scopes,
        List<String> resources,
        Status status,
        Optional<String> grantId,
        Optional<Instant> polledAt,
        Duration interval,
        Instant expiresAt) {
    /** Without vowels, so that no word comes of it, and without what is taken for something else. */
    public static final String LETTERS = "BCDFGHJKLMNPQRSTVWXZ";

    public enum Status {
        WAITING,
        APPROVED,
        DECLINED,
        REDEEMED;

        @Override
        public String toString() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    /** As people read it: {@code WDJB-MJHT}. */
    public static String shown(String userCode) {
        return userCode.substring(0, 4) + "-" + userCode.substring(4);
    }

    /** What was meant by what a person typed: in any case, with or without hyphen and spaces. */
    public static String typed(String text) {
        return text.toUpperCase(Locale.ROOT).replaceAll("[^A-Z]", "");
    }
}
