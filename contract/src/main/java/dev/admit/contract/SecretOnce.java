package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.time.Instant;

/**
 * A secret just made: shown in this answer and never again.
 *
 * @param authorization the ready header for client_secret_basic
 * @param curl          one line that fetches a token
 * @param env           the settings as a .env file
 */
public record SecretOnce(String id, String label, String secret, @JsonProperty("expires_at") Instant expiresAt,
        String authorization, String curl, String env) {}
