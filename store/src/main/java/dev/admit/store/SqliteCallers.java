package dev.admit.store;

import dev.admit.core.accessmap.AccessMap.CallerRow;
import dev.admit.core.accessmap.AccessMap.Callers;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.TreeMap;

/**
 * The clients of an issuer, each with the state of each requested scope; read from {@code client} and {@code approval}
 * in one go.
 */
public final class SqliteCallers implements Callers {
    private static final String OF = """
            SELECT client.id, client.name, client.kind, client.enabled, approval.scope_name AS scope,
                   CASE WHEN approval.status = 'granted' AND approval.expires_at <= ?3 THEN 'expired' ELSE
            approval.status END AS status
            FROM client LEFT JOIN approval ON approval.client_id = client.id
            WHERE client.issuer_id = ?1
              AND (?2 = '' OR instr(lower(client.name || char(10) || client.client_name || char(10) || \
            client.contacts ||
            char(10) || client.tags), lower(?2)) > 0)
            ORDER BY client.name, approval.scope_name""";

    private final Database database;
    private final Clock clock;

    public SqliteCallers(Database database, Clock clock) {
        this.database = database;
        this.clock = clock;
    }

    @Override
    public List<CallerRow> of(String issuerId, String search) {
        List<CallerRow> all = new ArrayList<>();
        database.list(
                OF,
                row -> {
                    String id = row.text("id");
                    if (all.isEmpty() || !all.getLast().id().equals(id))
                        all.add(new CallerRow(
                                id, row.text("name"), row.text("kind"), row.flag("enabled"), new TreeMap<>()));
                    if (!row.isNull("scope")) all.getLast().scopes().put(row.text("scope"), row.text("status"));
                    return id;
                },
                issuerId,
                search,
                clock.instant());
        return all;
    }
}
