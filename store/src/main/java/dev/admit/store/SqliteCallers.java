package dev.admit.store;

import dev.admit.core.crossing.Crossing.Asking;
import dev.admit.core.crossing.Crossing.Callers;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.TreeMap;

/**
 * The clients of an issuer, each with where its asks stand; read from {@code client} and {@code approval} in one go.
 */
public final class SqliteCallers implements Callers {
    private static final String OF = """
            SELECT client.id, client.name, client.kind, client.enabled, approval.scope_name AS scope,
                   CASE WHEN approval.status = 'given' AND approval.expires_at <= ?3 THEN 'expired' ELSE
            approval.status END AS status
            FROM client LEFT JOIN approval ON approval.client_id = client.id
            WHERE client.issuer_id = ?1
              AND (?2 = '' OR instr(lower(client.name || char(10) || client.title || char(10) || client.owner ||
            char(10) || client.tags), lower(?2)) > 0)
            ORDER BY client.name, approval.scope_name""";

    private final Database database;
    private final Clock clock;

    public SqliteCallers(Database database, Clock clock) {
        this.database = database;
        this.clock = clock;
    }

    @Override
    public List<Asking> of(String issuerId, String holding) {
        List<Asking> all = new ArrayList<>();
        database.list(
                OF,
                row -> {
                    String id = row.text("id");
                    if (all.isEmpty() || !all.getLast().id().equals(id))
                        all.add(new Asking(
                                id, row.text("name"), row.text("kind"), row.flag("enabled"), new TreeMap<>()));
                    if (!row.isNull("scope")) all.getLast().asks().put(row.text("scope"), row.text("status"));
                    return id;
                },
                issuerId,
                holding,
                clock.instant());
        return all;
    }
}
