package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.time.Instant;
import org.jspecify.annotations.Nullable;

/**
 * A signing key of an issuer, without its private half.
 *
 * @param purpose access-token or id-token: which tokens it signs
 * @param state upcoming, active, retiring, retired or removed
 * @param signsUntil when the next one takes over; null while none is to
 * @param verifiesUntil when the last token it can have signed has expired; null while it signs
 */
public record KeyView(
        String kid,
        @OneOf({"access-token", "id-token"}) String purpose,
        String alg,
        String state,
        boolean imported,
        @JsonProperty("created_at") Instant createdAt,
        @JsonProperty("signs_from") Instant signsFrom,
        @JsonProperty("signs_until") @Nullable Instant signsUntil,
        @JsonProperty("verifies_until") @Nullable Instant verifiesUntil,
        @JsonProperty("removed_at") @Nullable Instant removedAt) {}
