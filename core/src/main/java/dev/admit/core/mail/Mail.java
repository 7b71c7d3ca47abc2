package dev.admit.core.mail;

import java.time.Instant;
import java.util.Optional;

/**
 * One mail to one person, in plain text.
 *
 * @param body as anybody may read it who sees the outbox: a code in it is hidden
 * @param sentAt empty while it only lies in the outbox
 * @param fault why it could not be sent; may be empty
 * @param code the code that is hidden; empty for a mail without one, and once the code was used or is over
 */
public record Mail(
        String id,
        String issuerId,
        String to,
        String subject,
        String body,
        Instant writtenAt,
        Optional<Instant> sentAt,
        String fault,
        Optional<HiddenCode> code) {
    /** What stands in the place of a code. */
    public static final String HIDDEN = "(hidden)";

    /**
     * @param codeId of the mailed code
     * @param sealed the text with the code, under the master key
     * @param until when the code is over
     */
    public record HiddenCode(String codeId, byte[] sealed, Instant until) {
        @Override
        public String toString() {
            return "HiddenCode[" + codeId + "]";
        }
    }

    /** The mail as its reader gets it. */
    Mail reading(String text) {
        return new Mail(id, issuerId, to, subject, text, writtenAt, sentAt, fault, Optional.empty());
    }

    /** The name under which its text is sealed. */
    public static String sealedAs(String mailId) {
        return "mail " + mailId;
    }

    /** There may be a code in it. */
    @Override
    public String toString() {
        return "Mail[" + id + "]";
    }
}
