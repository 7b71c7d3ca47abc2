package dev.admit.store;

import dev.admit.core.plan.Usage;
import java.time.LocalDate;
import java.util.List;

/** The table {@code subscription_use}. */
public final class SqliteUsage implements Usage.Stored {
    private static final String OF =
            "SELECT * FROM subscription_use WHERE subscription_id = ? AND day >= ? ORDER BY day";
    private static final String ADD = """
            INSERT INTO subscription_use (subscription_id, day, admitted, limited) VALUES (?, ?, ?, ?)
            ON CONFLICT (subscription_id, day) DO UPDATE SET admitted = admitted + excluded.admitted,
            limited = limited + excluded.limited""";
    private static final String FORGET = """
            DELETE FROM subscription_use WHERE day < ? OR subscription_id NOT IN (SELECT id FROM subscription)""";

    private final Database database;

    public SqliteUsage(Database database) {
        this.database = database;
    }

    @Override
    public List<Usage.Day> of(String subscriptionId, LocalDate from) {
        return database.list(
                OF,
                row -> new Usage.Day(
                        row.text("subscription_id"),
                        LocalDate.parse(row.text("day")),
                        row.number("admitted"),
                        row.number("limited")),
                subscriptionId,
                from.toString());
    }

    @Override
    public void add(List<Usage.Day> some) {
        database.updateEach(
                ADD, some, it -> new Object[] {it.subscriptionId(), it.day().toString(), it.admitted(), it.limited()});
    }

    @Override
    public void forget(LocalDate before) {
        database.update(FORGET, before.toString());
    }
}
