package dev.admit.core.selfregistration;

import java.util.Locale;

/**
 * Whether clients may register themselves at an issuer.
 *
 * @param limits of those that register without an initial access token
 */
public record RegistrationPolicy(String issuerId, Mode mode, Limits limits, long version) {
    public enum Mode {
        /** Nobody registers. */
        CLOSED,
        /** With an initial access token. */
        WITH_TOKEN,
        /** Everybody, within the limits. */
        OPEN;

        @Override
        public String toString() {
            return name().toLowerCase(Locale.ROOT).replace('_', '-');
        }
    }

    /** As an issuer is before anything was said. */
    public static RegistrationPolicy closed(String issuerId) {
        return new RegistrationPolicy(issuerId, Mode.CLOSED, Limits.USUAL, 0);
    }
}
