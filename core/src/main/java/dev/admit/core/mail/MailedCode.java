package dev.admit.core.mail;

import dev.admit.core.registry.SecretHash;
import java.time.Instant;
import java.util.Locale;

/**
 * A short code that was mailed, to prove that the one who types it reads the mail at an address. Short as it is, few
 * tries are given.
 *
 * @param hash of code and id together
 */
public record MailedCode(
        String id, String issuerId, String email, Purpose purpose, SecretHash hash, int triesLeft, Instant expiresAt) {
    public enum Purpose {
        SIGN_UP,
        PASSWORD;

        @Override
        public String toString() {
            return name().toLowerCase(Locale.ROOT).replace('_', '-');
        }
    }
}
