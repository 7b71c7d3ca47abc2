package dev.admit.store;

import dev.admit.core.approval.Approval;
import dev.admit.core.approval.Approvals;
import dev.admit.core.change.Page;
import java.sql.SQLException;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/** The table {@code approval}. */
public final class SqliteApprovals implements Approvals {
    private static final String INSERT = """
            INSERT INTO approval (id, issuer_id, client_id, scope_id, scope_name, status, requested_at, requested_by,
            decided_at, decided_by,
                                  expires_at, reason, last_word, by_standing, version) VALUES (?, ?, ?, ?, ?, ?, ?, ?,
            ?, ?, ?, ?, ?, ?, ?)""";
    private static final String UPDATE = """
            UPDATE approval SET status = ?, requested_at = ?, requested_by = ?, decided_at = ?, decided_by = ?, \
            expires_at =
            ?, reason = ?,
                                last_word = ?, by_standing = ?, version = ? WHERE id = ?""";
    private static final String DELETE = "DELETE FROM approval WHERE id = ?";
    private static final String FIND = "SELECT * FROM approval WHERE issuer_id = ? AND id = ?";
    private static final String OF = "SELECT * FROM approval WHERE client_id = ? AND scope_id = ?";
    private static final String OF_CLIENT = "SELECT * FROM approval WHERE client_id = ? ORDER BY scope_name";
    private static final String OF_API = """
            SELECT approval.* FROM approval JOIN scope ON scope.id = approval.scope_id WHERE scope.api_id = ?
            ORDER BY approval.scope_name, approval.client_id""";
    private static final String OF_SCOPE = "SELECT * FROM approval WHERE scope_id = ? ORDER BY client_id";
    /**
     * The status counts with time taken into account, as {@link Approval#statusAt} has it. The cursor is time, then id.
     */
    private static final String LIST = """
            SELECT * FROM approval WHERE issuer_id = ?1 AND (requested_at > ?2 OR requested_at = ?2 AND id > ?3)
              AND (?4 IS NULL OR ?4 = CASE WHEN status = 'granted' AND expires_at <= ?5 THEN 'expired' ELSE status END)
              AND (?7 IS NULL OR client_id = ?7) AND (?8 IS NULL OR scope_name = ?8)
              AND (?9 IS NULL OR scope_id IN (SELECT scope.id FROM scope JOIN owner ON owner.api_id = scope.api_id
            WHERE owner.person_id = ?9)
                   OR client_id IN (SELECT owner.client_id FROM owner WHERE owner.person_id = ?9))
            ORDER BY requested_at, id LIMIT ?6""";

    private final Database database;

    public SqliteApprovals(Database database) {
        this.database = database;
    }

    @Override
    public void insert(Approval it) {
        database.update(
                INSERT,
                it.id(),
                it.issuerId(),
                it.clientId(),
                it.scopeId(),
                it.scopeName(),
                it.status(),
                it.requestedAt(),
                it.requestedBy(),
                it.decidedAt(),
                it.decidedBy(),
                it.expiresAt(),
                it.reason(),
                it.lastWord(),
                it.byStanding(),
                it.version());
    }

    @Override
    public void update(Approval it) {
        database.update(
                UPDATE,
                it.status(),
                it.requestedAt(),
                it.requestedBy(),
                it.decidedAt(),
                it.decidedBy(),
                it.expiresAt(),
                it.reason(),
                it.lastWord(),
                it.byStanding(),
                it.version(),
                it.id());
    }

    @Override
    public void delete(String approvalId) {
        database.update(DELETE, approvalId);
    }

    @Override
    public Optional<Approval> find(String issuerId, String approvalId) {
        return database.one(FIND, SqliteApprovals::read, issuerId, approvalId);
    }

    @Override
    public Optional<Approval> of(String clientId, String scopeId) {
        return database.one(OF, SqliteApprovals::read, clientId, scopeId);
    }

    @Override
    public List<Approval> ofClient(String clientId) {
        return database.list(OF_CLIENT, SqliteApprovals::read, clientId);
    }

    @Override
    public List<Approval> ofApi(String apiId) {
        return database.list(OF_API, SqliteApprovals::read, apiId);
    }

    @Override
    public List<Approval> ofScope(String scopeId) {
        return database.list(OF_SCOPE, SqliteApprovals::read, scopeId);
    }

    @Override
    public Page<Approval> list(String issuerId, Wanted it, Instant now, Page.Ask ask) {
        String cursor = ask.after().orElse("-1 ");
        if (!cursor.matches("-?\\d{1,15} .*")) throw new Page.UnknownCursor(cursor);
        String[] after = cursor.split(" ", 2);
        return Page.of(
                database.list(
                        LIST,
                        SqliteApprovals::read,
                        issuerId,
                        Long.parseLong(after[0]),
                        after[1],
                        it.status(),
                        now,
                        ask.limit() + 1,
                        it.clientId(),
                        it.scope(),
                        it.ownedBy()),
                ask,
                last -> last.requestedAt().toEpochMilli() + " " + last.id());
    }

    private static Approval read(Row row) throws SQLException {
        return new Approval(
                row.text("id"),
                row.text("issuer_id"),
                row.text("client_id"),
                row.text("scope_id"),
                row.text("scope_name"),
                row.word("status", Approval.Status.class),
                row.time("requested_at"),
                row.text("requested_by"),
                row.timeOrNone("decided_at"),
                row.textOrNone("decided_by"),
                row.timeOrNone("expires_at"),
                row.text("reason"),
                row.flag("last_word"),
                row.flag("by_standing"),
                row.number("version"));
    }
}
