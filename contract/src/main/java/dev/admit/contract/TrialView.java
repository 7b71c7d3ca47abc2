package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.time.Instant;

/** A trial token: what the client itself would get, for two minutes at most, naming in {@code act} who had it made. */
public record TrialView(
        String token,
        String client,
        String audience,
        String scope,
        @JsonProperty("expires_at") Instant expiresAt,
        String decision) {
    @Override
    public String toString() {
        return "TrialView[" + client + ", " + decision + "]";
    }
}
