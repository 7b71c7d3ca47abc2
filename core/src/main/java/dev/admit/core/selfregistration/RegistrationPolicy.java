package dev.admit.core.selfregistration;

import dev.admit.core.registry.Scope;
import java.util.Locale;

/**
 * Whether clients may register themselves at an issuer.
 *
 * @param limits of those that register without an initial access token
 * @param approver who approves what such a client requests: the person who is asked, where the scope lets them, or an
 *     administrator alone
 */
public record RegistrationPolicy(String issuerId, Mode mode, Limits limits, Scope.Approver approver, long version) {
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
        return new RegistrationPolicy(issuerId, Mode.CLOSED, Limits.USUAL, Scope.Approver.PERSON, 0);
    }
}
