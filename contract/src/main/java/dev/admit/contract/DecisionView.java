package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.time.Instant;
import java.util.List;

/**
 * One decision.
 *
 * @param endpoint token, gateway or admin
 * @param verdict admitted or refused
 * @param reason our word for a refusal, @param error the standard's; both null when admitted
 * @param answered the HTTP status
 * @param done what was done to the request or the answer
 */
public record DecisionView(
        String id,
        Instant at,
        String endpoint,
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
        String verdict,
        String reason,
        String error,
        int answered,
        long micros,
        List<CheckView> checks,
        FixView fix,
        List<String> done) {}
