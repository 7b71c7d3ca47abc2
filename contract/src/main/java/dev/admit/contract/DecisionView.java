package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * One decision.
 *
 * @param endpoint token, gateway or admin
 * @param verdict admitted or refused
 * @param reason our word for a refusal
 * @param error the standard's; both null when admitted
 * @param answered the HTTP status
 * @param done what was done to the request or the answer
 */
public record DecisionView(
        String id,
        Instant at,
        @OneOf({"token", "gateway", "admin", "sign-in"}) String endpoint,
        String issuer,
        @JsonProperty("client_id") String clientId,
        String client,
        String subject,
        String api,
        String route,
        long revision,
        String method,
        String path,
        String scopes,
        String from,
        @OneOf({"admitted", "refused"}) String verdict,
        @Nullable String reason,
        @Nullable String error,
        int answered,
        long micros,
        List<CheckView> checks,
        @Nullable FixView fix,
        List<String> done) {}
