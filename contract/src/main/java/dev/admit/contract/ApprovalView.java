package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.time.Instant;

/**
 * What a client requests and the answer to it. @param status waiting, granted, declined, withdrawn or expired, @param
 * waitsFor who must act while it waits; else null, @param byStandingApproval whether the scope's standing approval gave
 * it
 */
public record ApprovalView(
        String id,
        @JsonProperty("client_id") String clientId,
        String client,
        String api,
        String scope,
        String consequence,
        String status,
        @JsonProperty("requested_at") Instant requestedAt,
        @JsonProperty("requested_by") String requestedBy,
        @JsonProperty("decided_at") Instant decidedAt,
        @JsonProperty("decided_by") String decidedBy,
        @JsonProperty("expires_at") Instant expiresAt,
        String reason,
        @JsonProperty("waits_for") String waitsFor,
        @JsonProperty("by_standing_approval") boolean byStandingApproval,
        long version) {}
