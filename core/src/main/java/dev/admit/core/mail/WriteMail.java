package dev.admit.core.mail;

import dev.admit.core.change.Ids;
import dev.admit.core.change.Transactions;
import dev.admit.core.registry.Issuer;
import java.time.Instant;
import java.util.Optional;

/** Puts mails into the outbox and, where a mail server is set, on their way. */
public final class WriteMail {
    private final Transactions transactions;
    private final Mails mails;
    private final Optional<Post> post;

    public WriteMail(Transactions transactions, Mails mails, Optional<Post> post) {
        this.transactions = transactions;
        this.mails = mails;
        this.post = post;
    }

    public void write(Issuer issuer, String email, String subject, String body, Instant now) {
        write(issuer, email, subject, body, () -> { }, now);
    }

    /** @param with is kept together with the mail, or not at all */
    void write(Issuer issuer, String email, String subject, String body, Runnable with, Instant now) {
        Mail mail = new Mail(Ids.timeOrdered("ml_", now.toEpochMilli()), issuer.id(), email, subject, body, now, Optional.empty(), "");
        transactions.inOne(() -> {
            with.run();
            mails.insert(mail);
            return null;
        });
        post.ifPresent(it -> it.send(mail));
    }
}
