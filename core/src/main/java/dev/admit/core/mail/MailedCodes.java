package dev.admit.core.mail;

import java.time.Instant;
import java.util.Optional;

/** The mailed codes that are kept. */
public interface MailedCodes {
    void insert(MailedCode code);

    /**
     * Uses up one try.
     *
     * @return the code, empty when it is not there, over, or has no try left
     */
    Optional<MailedCode> attempt(String codeId, Instant now);

    /** @return whether this call took it out: each opens once */
    boolean delete(String codeId);

    int drop(Instant before);
}
