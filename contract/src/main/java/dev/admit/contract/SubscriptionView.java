package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.time.Instant;
import org.jspecify.annotations.Nullable;

/**
 * A client's part in a plan.
 *
 * @param client by name
 * @param plan by name
 * @param reason why it was declined, paused or ended; empty for none
 * @param movingTo the plan that it goes over to once that is approved
 * @param termsAccepted the version of the terms that was accepted; null where there were none
 * @param keepsUntil until when it keeps what the plan was before a change; null where it has what is there now
 * @param decidedBy who approved, declined, paused, resumed or ended it
 * @param sentence how it stands, in words
 */
public record SubscriptionView(
        String id,
        String client,
        String plan,

        @OneOf({"waiting", "active", "paused", "declined", "ended"})
        String status,

        String reason,
        @JsonProperty("moving_to") @Nullable String movingTo,
        @JsonProperty("terms_accepted") @Nullable Long termsAccepted,
        @JsonProperty("accepted_by") @Nullable String acceptedBy,
        @JsonProperty("accepted_at") @Nullable Instant acceptedAt,
        @JsonProperty("keeps_until") @Nullable Instant keepsUntil,
        @JsonProperty("requested_by") String requestedBy,
        @JsonProperty("requested_at") Instant requestedAt,
        @JsonProperty("decided_by") @Nullable String decidedBy,
        @JsonProperty("decided_at") @Nullable Instant decidedAt,
        String sentence,
        long version) {}
