package dev.admit.store;

import dev.admit.core.tries.Tries;
import java.time.Instant;

/** The table {@code tries}. */
public final class SqliteTries implements Tries.Kept {
    private static final String ADD = """
            INSERT INTO tries (whose, stretch, made) VALUES (?, ?, 1)
            ON CONFLICT (whose) DO UPDATE SET made = CASE WHEN stretch = excluded.stretch THEN made + 1 ELSE 1 END, stretch = excluded.stretch""";
    private static final String MADE = "SELECT made FROM tries WHERE whose = ?";
    private static final String TAKE_OFF = "UPDATE tries SET made = made - 1 WHERE whose = ? AND stretch = ? AND made > 0";
    private static final String DROP = "DELETE FROM tries WHERE stretch < ?";

    private final Database database;

    public SqliteTries(Database database) {
        this.database = database;
    }

    /** In one transaction, so that of two at once each has a number of its own. */
    @Override public int add(String whose, long stretch) {
        return database.inOne(() -> {
            database.update(ADD, whose, stretch);
            return database.one(MADE, row -> (int) row.number("made"), whose).orElseThrow();
        });
    }

    @Override public void takeOff(String whose, long stretch) {
        database.update(TAKE_OFF, whose, stretch);
    }

    @Override public int drop(Instant before) {
        return database.update(DROP, before);
    }
}
