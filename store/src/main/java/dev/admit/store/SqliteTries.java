package dev.admit.store;

import dev.admit.core.tries.Tries;
import java.time.Duration;
import java.time.Instant;

/** The table {@code tries}. */
public final class SqliteTries implements Tries.Stored {
    // "stretch" is when the stretch of time began. One that lies further ahead than it is long comes from a clock that
    // was wrong.
    private static final String ADD = """
            INSERT INTO tries (whose, stretch, made) VALUES (?1, ?2, 1)
            ON CONFLICT (whose) DO UPDATE SET made = CASE WHEN abs(stretch - ?2) < ?3 THEN made + 1 ELSE 1 END,
                stretch = CASE WHEN abs(stretch - ?2) < ?3 THEN stretch ELSE ?2 END""";
    private static final String MADE = "SELECT made, stretch FROM tries WHERE whose = ?";
    private static final String TAKE_OFF =
            "UPDATE tries SET made = made - 1 WHERE whose = ?1 AND abs(stretch - ?2) < ?3 AND made > 0";
    private static final String DROP = "DELETE FROM tries WHERE stretch < ?";

    private final Database database;

    public SqliteTries(Database database) {
        this.database = database;
    }

    /** In one transaction, so that of two at once each has a number of its own. */
    @Override
    public Tries.Made add(String whose, Instant now, Duration stretch) {
        return database.inOne(() -> {
            database.update(ADD, whose, now, stretch.toMillis());
            return database.one(MADE, row -> new Tries.Made((int) row.number("made"), row.time("stretch")), whose)
                    .orElseThrow();
        });
    }

    @Override
    public void takeOff(String whose, Instant now, Duration stretch) {
        database.update(TAKE_OFF, whose, now, stretch.toMillis());
    }

    @Override
    public int drop(Instant before) {
        return database.update(DROP, before);
    }
}
