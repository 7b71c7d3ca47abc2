package dev.admit.store;

import dev.admit.core.token.KeptRevocations;
import dev.admit.core.token.Revocation;
import java.time.Instant;
import java.util.List;

/** The table {@code revocation}. */
public final class SqliteRevocations implements KeptRevocations {
    private static final String INSERT = "INSERT INTO revocation (client_id, scope, before_order, drop_at) VALUES (?, ?, ?, ?)";
    private static final String ALL = "SELECT * FROM revocation";
    private static final String DROP = "DELETE FROM revocation WHERE drop_at < ?";

    private final Database database;

    public SqliteRevocations(Database database) {
        this.database = database;
    }

    @Override public void insert(Revocation it) {
        database.update(INSERT, it.clientId(), it.scope(), it.before(), it.dropAt());
    }

    @Override public List<Revocation> all() {
        return database.list(ALL, row -> new Revocation(row.text("client_id"), row.textOrNone("scope"), row.number("before_order"),
                row.time("drop_at")));
    }

    @Override public int drop(Instant now) {
        return database.update(DROP, now);
    }
}
