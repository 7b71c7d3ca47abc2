package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * A person who can sign in.
 *
 * @param profile field → value
 * @param roles names
 * @param adminRole what they may do at Admit itself; null for nothing
 * @param hasPassword whether one was chosen
 * @param hasFactor whether a second factor was added
 * @param approved what they approved for themselves
 */
public record PersonView(
        String id,
        String email,
        @JsonProperty("email_verified") boolean emailVerified,
        String name,
        Map<String, String> profile,
        List<String> roles,
        @JsonProperty("admin_role") @Nullable String adminRole,
        boolean enabled,
        @JsonProperty("has_password") boolean hasPassword,
        @JsonProperty("has_factor") boolean hasFactor,
        List<SessionView> sessions,
        List<Approved> approved,
        long version,
        @JsonProperty("created_at") Instant createdAt) {

    public record Approved(
            @JsonProperty("client_id") String clientId,
            String client,
            String scope,
            @JsonProperty("granted_at") Instant grantedAt) {}

    /** Where they are signed in. */
    public record SessionView(
            String id,
            @JsonProperty("signed_in_at") Instant signedInAt,
            @JsonProperty("seen_at") Instant seenAt,
            @JsonProperty("ends_at") Instant endsAt,
            String from,
            String agent,
            List<String> methods) {}
}
