package dev.admit.core.signin;

import dev.admit.core.registry.SecretHash;
import java.time.Instant;
import java.util.List;

/**
 * One person signed in, in one browser.
 *
 * @param id the {@code sid} of tokens
 * @param browser the hash of the browser's cookie; several people may be signed in in one
 * @param methods of RFC 8176: {@code pwd}, and with a second factor {@code otp} and {@code mfa}
 * @param agent what the browser calls itself, shortened
 */
public record Session(
        String id,
        String issuerId,
        String personId,
        SecretHash browser,
        Instant authTime,
        List<String> methods,
        Instant startedAt,
        Instant seenAt,
        Instant endsAt,
        String from,
        String agent) {

    public boolean hasSecondFactor() {
        return methods.contains("mfa");
    }
}
