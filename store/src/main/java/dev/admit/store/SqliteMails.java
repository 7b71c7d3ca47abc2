package dev.admit.store;

import dev.admit.core.change.Page;
import dev.admit.core.mail.Mail;
import dev.admit.core.mail.Mails;
import java.sql.SQLException;
import java.time.Instant;
import java.util.Optional;

/** The table {@code mail}. */
public final class SqliteMails implements Mails {
    private static final String INSERT =
            "INSERT INTO mail (id, issuer_id, recipient, subject, body, written_at, sent_at, fault, code_id, "
                    + "sealed, hidden_until) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)";
    private static final String SENT = "UPDATE mail SET sent_at = ?, fault = '' WHERE id = ?";
    private static final String FAILED = "UPDATE mail SET fault = ? WHERE id = ?";
    private static final String FIND = "SELECT * FROM mail WHERE issuer_id = ? AND id = ?";
    private static final String LIST =
            "SELECT * FROM mail WHERE issuer_id = ?1 AND (?2 = '' OR id < ?2) AND (?3 = '' OR recipient = ?3) ORDER "
                    + "BY id DESC LIMIT ?4";
    private static final String ERASE =
            "UPDATE mail SET code_id = NULL, sealed = NULL, hidden_until = NULL WHERE code_id = ?";
    private static final String ERASE_OLD =
            "UPDATE mail SET code_id = NULL, sealed = NULL, hidden_until = NULL WHERE hidden_until < ?";
    private static final String DROP = "DELETE FROM mail WHERE written_at < ?";

    private final Database database;

    public SqliteMails(Database database) {
        this.database = database;
    }

    @Override
    public void insert(Mail it) {
        database.update(
                INSERT,
                it.id(),
                it.issuerId(),
                it.to(),
                it.subject(),
                it.body(),
                it.writtenAt(),
                it.sentAt(),
                it.fault(),
                it.code().map(Mail.HiddenCode::codeId),
                it.code().map(Mail.HiddenCode::sealed),
                it.code().map(Mail.HiddenCode::until));
    }

    @Override
    public void sent(String mailId, Instant now) {
        database.update(SENT, now, mailId);
    }

    @Override
    public void failed(String mailId, String fault) {
        database.update(FAILED, fault, mailId);
    }

    @Override
    public Optional<Mail> find(String issuerId, String mailId) {
        return database.one(FIND, SqliteMails::read, issuerId, mailId);
    }

    @Override
    public Page<Mail> list(String issuerId, String to, Page.Ask ask) {
        return Page.of(
                database.list(LIST, SqliteMails::read, issuerId, ask.after().orElse(""), to, ask.limit() + 1),
                ask,
                Mail::id);
    }

    @Override
    public void eraseCode(String codeId) {
        database.update(ERASE, codeId);
    }

    @Override
    public int eraseCodes(Instant before) {
        return database.update(ERASE_OLD, before);
    }

    @Override
    public int drop(Instant before) {
        return database.update(DROP, before);
    }

    private static Optional<Mail.HiddenCode> code(Row row) throws SQLException {
        Optional<Instant> until = row.timeOrNone("hidden_until");
        return until.isEmpty()
                ? Optional.empty()
                : Optional.of(new Mail.HiddenCode(row.text("code_id"), row.bytes("sealed"), until.get()));
    }

    private static Mail read(Row row) throws SQLException {
        return new Mail(
                row.text("id"),
                row.text("issuer_id"),
                row.text("recipient"),
                row.text("subject"),
                row.text("body"),
                row.time("written_at"),
                row.timeOrNone("sent_at"),
                row.text("fault"),
                code(row));
    }
}
