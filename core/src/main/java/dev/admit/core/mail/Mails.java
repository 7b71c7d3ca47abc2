package dev.admit.core.mail;

import dev.admit.core.change.Page;
import java.time.Instant;
import java.util.Optional;

/** The outbox: every mail that was written, sent or not. */
public interface Mails {
    void insert(Mail mail);

    void sent(String mailId, Instant now);

    void failed(String mailId, String fault);

    Optional<Mail> find(String issuerId, String mailId);

    /**
     * The newest first.
     *
     * @param to an address, or empty
     */
    Page<Mail> list(String issuerId, String to, Page.Ask ask);

    /** Forgets the code that stands in a mail. */
    void eraseCode(String codeId);

    /**
     * Forgets the codes that were over before a time.
     *
     * @return how many
     */
    int eraseCodes(Instant before);

    int drop(Instant before);
}
