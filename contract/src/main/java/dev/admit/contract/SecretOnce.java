package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.time.Instant;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * A secret just made: shown in this answer and never again.
 *
 * @param authorization the ready header for client_secret_basic; null for a client that proves itself in the body
 * @param curl one line that fetches a token, or requests one
 * @param env the settings as a .env file
 * @param code language → a few lines that do it with general-purpose libraries, reading that .env
 */
public record SecretOnce(
        String id,
        String label,
        String secret,
        @JsonProperty("expires_at") @Nullable Instant expiresAt,
        @Nullable String authorization,
        String curl,
        String env,
        Map<String, String> code) {

    @Override
    public String toString() {
        return "SecretOnce[" + id + "]";
    }
}
