package dev.admit.core.mail;

import java.time.Instant;
import java.util.Optional;

/** One mail to one person, in plain text. @param sentAt empty while it only lies in the outbox, @param fault why it could not be sent; may be empty */
public record Mail(String id, String issuerId, String to, String subject, String body, Instant writtenAt, Optional<Instant> sentAt, String fault) {
    /** There is a code in it. */
    @Override public String toString() {
        return "Mail[" + id + "]";
    }
}
