package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.time.Instant;
import org.jspecify.annotations.Nullable;

/**
 * A mail of the outbox.
 *
 * @param sentAt null while it only lies there
 * @param fault why it could not be sent; may be empty
 * @param hidden whether a code is hidden in it that an administrator can have shown
 */
public record MailView(
        String id,
        String to,
        String subject,
        String body,
        @JsonProperty("written_at") Instant writtenAt,
        @JsonProperty("sent_at") @Nullable Instant sentAt,
        String fault,
        boolean hidden) {}
