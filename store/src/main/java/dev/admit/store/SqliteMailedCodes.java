package dev.admit.store;

import dev.admit.core.mail.MailedCode;
import dev.admit.core.mail.MailedCodes;
import dev.admit.core.registry.SecretHash;
import java.time.Instant;
import java.util.Optional;

/** The table {@code mailed_code}. */
public final class SqliteMailedCodes implements MailedCodes {
    private static final String INSERT =
            "INSERT INTO mailed_code (id, issuer_id, email, purpose, hash, tries_left, expires_at) VALUES (?, ?, ?, "
                    + "?, ?, ?, ?)";
    // The try is used up before it is known whether it is right: two at once are two.
    private static final String ATTEMPT =
            "UPDATE mailed_code SET tries_left = tries_left - 1 WHERE id = ? AND tries_left > 0 AND expires_at > ?";
    private static final String FIND = "SELECT * FROM mailed_code WHERE id = ?";
    private static final String DELETE = "DELETE FROM mailed_code WHERE id = ?";
    private static final String DROP = "DELETE FROM mailed_code WHERE expires_at < ?";

    private final Database database;

    public SqliteMailedCodes(Database database) {
        this.database = database;
    }

    @Override
    public void insert(MailedCode it) {
        database.update(
                INSERT,
                it.id(),
                it.issuerId(),
                it.email(),
                it.purpose(),
                it.hash().bytes(),
                it.triesLeft(),
                it.expiresAt());
    }

    @Override
    public Optional<MailedCode> attempt(String codeId, Instant now) {
        return database.inOne(() -> database.update(ATTEMPT, codeId, now) == 0
                ? Optional.empty()
                : database.one(
                        FIND,
                        row -> new MailedCode(
                                row.text("id"),
                                row.text("issuer_id"),
                                row.text("email"),
                                row.word("purpose", MailedCode.Purpose.class),
                                SecretHash.stored(row.bytes("hash")),
                                (int) row.number("tries_left"),
                                row.time("expires_at")),
                        codeId));
    }

    @Override
    public boolean delete(String codeId) {
        return database.update(DELETE, codeId) == 1;
    }

    @Override
    public int drop(Instant before) {
        return database.update(DROP, before);
    }
}
