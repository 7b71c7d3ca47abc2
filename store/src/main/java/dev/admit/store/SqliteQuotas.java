package dev.admit.store;

import dev.admit.core.limit.Quotas;
import java.time.Instant;
import java.util.List;

/** The table {@code quota_use}. */
public final class SqliteQuotas implements Quotas.Stored {
    private static final String ALL = "SELECT * FROM quota_use";
    private static final String KEEP = """
            INSERT INTO quota_use (route_id, quota, whom, began_at, used) VALUES (?, ?, ?, ?, ?)
            ON CONFLICT (route_id, quota, whom) DO UPDATE SET began_at = excluded.began_at, used = excluded.used""";
    private static final String FORGET = "DELETE FROM quota_use WHERE began_at < ?";

    private final Database database;

    public SqliteQuotas(Database database) {
        this.database = database;
    }

    @Override
    public List<Quotas.Used> all() {
        return database.list(
                ALL,
                row -> new Quotas.Used(
                        row.text("route_id"),
                        row.text("quota"),
                        row.text("whom"),
                        row.time("began_at"),
                        row.number("used")));
    }

    @Override
    public void keep(List<Quotas.Used> some) {
        database.updateEach(
                KEEP, some, it -> new Object[] {it.routeId(), it.quota(), it.whom(), it.beganAt(), it.used()});
    }

    @Override
    public void forget(Instant before) {
        database.update(FORGET, before);
    }
}
