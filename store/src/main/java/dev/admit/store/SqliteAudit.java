package dev.admit.store;

import dev.admit.core.audit.AuditLine;
import dev.admit.core.audit.AuditTrail;
import dev.admit.core.change.Page;
import java.sql.SQLException;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/** The tables {@code audit} and {@code audit_ends}. */
public final class SqliteAudit implements AuditTrail {
    private static final String APPEND = """
            INSERT INTO audit (issuer_id, seq, at, what, who, who_id, from_address, on_what, was, now_is, token_id,
            expires_at, hash)
            VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)""";
    private static final String ENDS = "SELECT sealed FROM audit_ends WHERE issuer_id = ?";
    private static final String PUT_ENDS =
            "INSERT INTO audit_ends (issuer_id, sealed) VALUES (?, ?) ON CONFLICT (issuer_id) DO UPDATE SET sealed "
                    + "= excluded.sealed";
    private static final String FOLLOWING = "SELECT * FROM audit WHERE issuer_id = ? AND seq > ? ORDER BY seq LIMIT ?";
    private static final String LIST = """
            SELECT * FROM audit WHERE issuer_id = ?1 AND seq < ?2 AND at >= ?3 AND at < ?4
              AND (?5 = '' OR what = ?5 OR substr(what, 1, length(?5) + 1) = ?5 || '.') AND (?6 = '' OR who = ?6 OR
            who_id = ?6)
              AND (?7 = '' OR on_what = ?7)
            ORDER BY seq DESC LIMIT ?8""";
    // A clock that was set back leaves older times behind newer ones: only what lies before every newer line may go.
    private static final String LAST_BEFORE = """
            SELECT * FROM audit WHERE issuer_id = ?1
              AND seq < coalesce((SELECT min(seq) FROM audit WHERE issuer_id = ?1 AND at >= ?2), 9223372036854775807)
            ORDER BY seq DESC LIMIT 1""";
    private static final String ISSUED = """
            SELECT * FROM audit WHERE issuer_id = ?1 AND token_id IS NOT NULL AND seq < ?2 AND (?3 = '' OR who_id =
            ?3) AND (?4 = '' OR on_what = ?4)
              AND (?5 IS NULL OR expires_at > ?5) ORDER BY seq DESC LIMIT ?6""";
    private static final String REMOVE_THROUGH = "DELETE FROM audit WHERE issuer_id = ? AND seq <= ?";
    private static final String ISSUERS = "SELECT issuer_id FROM audit_ends ORDER BY issuer_id";

    private final Database database;

    public SqliteAudit(Database database) {
        this.database = database;
    }

    @Override
    public Optional<byte[]> ends(String issuerId) {
        return database.one(ENDS, row -> row.bytes("sealed"), issuerId);
    }

    @Override
    public void putEnds(String issuerId, byte[] sealed) {
        database.update(PUT_ENDS, issuerId, sealed);
    }

    @Override
    public void append(List<AuditLine> lines) {
        database.updateEach(APPEND, lines, it -> new Object[] {
            it.issuerId(),
            it.seq(),
            it.at(),
            it.what(),
            it.who(),
            it.whoId(),
            it.from(),
            it.on(),
            it.before(),
            it.after(),
            it.token().map(AuditLine.Token::id),
            it.token().map(AuditLine.Token::expiresAt),
            it.hash()
        });
    }

    @Override
    public List<AuditLine> following(String issuerId, long seq, int most) {
        return database.list(FOLLOWING, SqliteAudit::read, issuerId, seq, most);
    }

    @Override
    public Page<AuditLine> list(String issuerId, Filter filter, Page.Ask ask) {
        return Page.of(
                database.list(
                        LIST,
                        SqliteAudit::read,
                        issuerId,
                        ask.after().map(SqliteAudit::cursor).orElse(Long.MAX_VALUE),
                        filter.since(),
                        filter.until(),
                        filter.what(),
                        filter.who(),
                        filter.on(),
                        ask.limit() + 1),
                ask,
                line -> String.valueOf(line.seq()));
    }

    @Override
    public Page<AuditLine> issued(
            String issuerId, String clientId, String api, Optional<Instant> activeAt, Page.Ask ask) {
        return Page.of(
                database.list(
                        ISSUED,
                        SqliteAudit::read,
                        issuerId,
                        ask.after().map(SqliteAudit::cursor).orElse(Long.MAX_VALUE),
                        clientId,
                        api,
                        activeAt,
                        ask.limit() + 1),
                ask,
                line -> String.valueOf(line.seq()));
    }

    private static long cursor(String text) {
        try {
            return Long.parseLong(text);
        } catch (NumberFormatException notOurs) {
            throw new Page.UnknownCursor(text);
        }
    }

    @Override
    public Optional<AuditLine> lastBefore(String issuerId, Instant time) {
        return database.one(LAST_BEFORE, SqliteAudit::read, issuerId, time);
    }

    @Override
    public int removeThrough(String issuerId, long seq) {
        return database.update(REMOVE_THROUGH, issuerId, seq);
    }

    @Override
    public List<String> issuers() {
        return database.list(ISSUERS, row -> row.text("issuer_id"));
    }

    private static AuditLine read(Row row) throws SQLException {
        Optional<AuditLine.Token> token = row.isNull("token_id")
                ? Optional.empty()
                : Optional.of(new AuditLine.Token(row.text("token_id"), row.time("expires_at")));
        return new AuditLine(
                row.text("issuer_id"),
                row.number("seq"),
                row.time("at"),
                row.text("what"),
                row.text("who"),
                row.text("who_id"),
                row.text("from_address"),
                row.text("on_what"),
                row.text("was"),
                row.text("now_is"),
                token,
                row.text("hash"));
    }
}
