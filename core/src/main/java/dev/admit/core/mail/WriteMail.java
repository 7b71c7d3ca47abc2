package dev.admit.core.mail;

import dev.admit.core.change.Ids;
import dev.admit.core.change.Transactions;
import dev.admit.core.key.MasterKey;
import dev.admit.core.registry.Issuer;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.Optional;

/** Puts mails into the outbox and, where a mail server is set, on their way. */
public final class WriteMail {
    private final Transactions transactions;
    private final Mails mails;
    private final Optional<Post> post;
    private final MasterKey masterKey;

    public WriteMail(Transactions transactions, Mails mails, Optional<Post> post, MasterKey masterKey) {
        this.transactions = transactions;
        this.mails = mails;
        this.post = post;
        this.masterKey = masterKey;
    }

    public void write(Issuer issuer, String email, String subject, String body, Instant now) {
        String id = Ids.timeOrdered("ml_", now.toEpochMilli());
        write(
                new Mail(id, issuer.id(), email, subject, body, now, Optional.empty(), "", Optional.empty()),
                body,
                () -> {});
    }

    /**
     * Writes a mail with a code in it. The outbox shows it without the code.
     *
     * @param code kept together with the mail, or not at all
     * @param body makes the text; is given what stands for the code and its id: themselves, or that they are hidden
     */
    void write(
            Issuer issuer,
            String email,
            String subject,
            MailedCode code,
            String digits,
            Body body,
            Runnable keepCode,
            Instant now) {
        String id = Ids.timeOrdered("ml_", now.toEpochMilli());
        String text = body.with(digits, code.id());
        byte[] sealed = masterKey.seal(text.getBytes(StandardCharsets.UTF_8), Mail.sealedAs(id));
        write(
                new Mail(
                        id,
                        issuer.id(),
                        email,
                        subject,
                        body.with(Mail.HIDDEN, Mail.HIDDEN),
                        now,
                        Optional.empty(),
                        "",
                        Optional.of(new Mail.HiddenCode(code.id(), sealed, code.expiresAt()))),
                text,
                keepCode);
    }

    /** The text of a mail with a code. */
    interface Body {
        String with(String digits, String codeId);
    }

    private void write(Mail mail, String text, Runnable with) {
        transactions.inOne(() -> {
            with.run();
            mails.insert(mail);
            return null;
        });
        post.ifPresent(it -> it.send(mail.reading(text)));
    }

    /**
     * Does what writing a mail with a code costs, and writes none.
     *
     * @param keepCode kept, as it would be
     */
    void writeNothing(Issuer issuer, Runnable keepCode) {
        masterKey.seal(new byte[500], "mail to nobody of " + issuer.id());
        transactions.inOne(() -> {
            keepCode.run();
            return null;
        });
    }

    /** Forgets the code that stands in a mail, because it was used. */
    void erase(String codeId) {
        mails.eraseCode(codeId);
    }
}
