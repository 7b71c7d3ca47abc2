package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.time.Instant;
import org.jspecify.annotations.Nullable;

/**
 * What a client requests and the answer to it.
 *
 * @param status waiting, granted, declined, withdrawn or expired
 * @param waitsFor who must act while it waits; else null
 * @param byStandingApproval whether the scope's standing approval gave it
 */
public record ApprovalView(
        String id,
        @JsonProperty("client_id") String clientId,
        String client,
        String api,
        String scope,
        String consequence,

        @OneOf({"waiting", "granted", "declined", "withdrawn", "expired"})
        String status,

        @JsonProperty("requested_at") Instant requestedAt,
        @JsonProperty("requested_by") String requestedBy,
        @JsonProperty("decided_at") @Nullable Instant decidedAt,
        @JsonProperty("decided_by") @Nullable String decidedBy,
        @JsonProperty("expires_at") @Nullable Instant expiresAt,
        @Nullable String reason,
        @JsonProperty("waits_for") @Nullable String waitsFor,
        @JsonProperty("by_standing_approval") boolean byStandingApproval,
        long version) {}
