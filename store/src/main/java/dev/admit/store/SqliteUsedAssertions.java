package dev.admit.store;

import dev.admit.core.clientauth.UsedAssertions;
import java.time.Instant;

/** The table {@code used_assertion}. */
public final class SqliteUsedAssertions implements UsedAssertions {
    // The primary key picks the winner of a race.
    private static final String CLAIM =
            "INSERT INTO used_assertion (client_id, jti, until) VALUES (?, ?, ?) ON CONFLICT DO NOTHING";
    private static final String DROP = "DELETE FROM used_assertion WHERE until < ?";

    private final Database database;

    public SqliteUsedAssertions(Database database) {
        this.database = database;
    }

    @Override
    public boolean claim(String clientId, String jti, Instant until) {
        return database.update(CLAIM, clientId, jti, until) == 1;
    }

    @Override
    public int drop(Instant now) {
        return database.update(DROP, now);
    }
}
