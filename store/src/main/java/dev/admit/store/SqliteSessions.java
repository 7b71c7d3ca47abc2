package dev.admit.store;

import dev.admit.core.registry.SecretHash;
import dev.admit.core.signin.Session;
import dev.admit.core.signin.Sessions;
import java.sql.SQLException;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/** The table {@code session}. */
public final class SqliteSessions implements Sessions {
    private static final String INSERT = """
            INSERT INTO session (id, issuer_id, person_id, browser, auth_time, methods, started_at, seen_at, ends_at,
            from_address, agent)
            VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)""";
    private static final String FIND = "SELECT * FROM session WHERE id = ? AND ends_at > ?";
    private static final String OF_BROWSER =
            "SELECT * FROM session WHERE browser = ? AND issuer_id = ? AND ends_at > ? ORDER BY auth_time DESC, id";
    private static final String OF_PERSON =
            "SELECT * FROM session WHERE person_id = ? AND ends_at > ? ORDER BY auth_time DESC, id";
    private static final String MOVE = "UPDATE session SET browser = ? WHERE browser = ?";
    // The longest end is kept beside the present one by its start: it is never moved past what the issuer allows.
    private static final String SEEN =
            "UPDATE session SET seen_at = ?2, ends_at = min(?3, started_at + ?4) WHERE id = ?1";
    private static final String PROVEN = "UPDATE session SET auth_time = ?, methods = ? WHERE id = ?";
    private static final String DELETE = "DELETE FROM session WHERE id = ?";
    private static final String DROP = "DELETE FROM session WHERE ends_at < ?";

    private final Database database;

    public SqliteSessions(Database database) {
        this.database = database;
    }

    @Override
    public void insert(Session it) {
        database.update(
                INSERT,
                it.id(),
                it.issuerId(),
                it.personId(),
                it.browser().bytes(),
                it.authTime(),
                String.join(" ", it.methods()),
                it.startedAt(),
                it.seenAt(),
                it.endsAt(),
                it.from(),
                it.agent());
    }

    @Override
    public Optional<Session> find(String sessionId, Instant now) {
        return database.one(FIND, SqliteSessions::read, sessionId, now);
    }

    @Override
    public List<Session> ofBrowser(String issuerId, SecretHash browser, Instant now) {
        return database.list(OF_BROWSER, SqliteSessions::read, browser.bytes(), issuerId, now);
    }

    @Override
    public List<Session> ofPerson(String personId, Instant now) {
        return database.list(OF_PERSON, SqliteSessions::read, personId, now);
    }

    @Override
    public void move(SecretHash from, SecretHash to) {
        database.update(MOVE, to.bytes(), from.bytes());
    }

    @Override
    public void seen(String sessionId, Instant now, Instant idleUntil, java.time.Duration longest) {
        database.update(SEEN, sessionId, now, idleUntil, longest);
    }

    @Override
    public void proven(String sessionId, Instant authTime, List<String> methods) {
        database.update(PROVEN, authTime, String.join(" ", methods), sessionId);
    }

    @Override
    public void delete(String sessionId) {
        database.update(DELETE, sessionId);
    }

    @Override
    public int drop(Instant before) {
        return database.update(DROP, before);
    }

    private static Session read(Row row) throws SQLException {
        return new Session(
                row.text("id"),
                row.text("issuer_id"),
                row.text("person_id"),
                SecretHash.stored(row.bytes("browser")),
                row.time("auth_time"),
                row.words("methods"),
                row.time("started_at"),
                row.time("seen_at"),
                row.time("ends_at"),
                row.text("from_address"),
                row.text("agent"));
    }
}
