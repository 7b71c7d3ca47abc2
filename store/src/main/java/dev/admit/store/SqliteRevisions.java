package dev.admit.store;

import dev.admit.core.change.Page;
import dev.admit.core.route.Revision;
import dev.admit.core.route.Revisions;
import dev.admit.core.route.Route;
import java.sql.SQLException;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** The tables {@code route_revision} and {@code route_history}. */
public final class SqliteRevisions implements Revisions {
    private static final String INSERT =
            "INSERT INTO route_revision (issuer_id, number, at, who, who_id, why) VALUES (?, ?, ?, ?, ?, ?)";
    private static final String BEGAN = """
            INSERT INTO route_history (methods, pattern, shape, api_id, scopes, any_of, upstream, response_status,
            response_type, response_body, cors, settings, version, created_at, id, issuer_id, since)
            VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)""";
    private static final String ENDED = "UPDATE route_history SET until = ? WHERE id = ? AND until IS NULL";
    private static final String LIST =
            "SELECT * FROM route_revision WHERE issuer_id = ? AND number < ? ORDER BY number DESC LIMIT ?";
    private static final String FIND = "SELECT * FROM route_revision WHERE issuer_id = ? AND number = ?";
    private static final String AT =
            "SELECT * FROM route_history WHERE issuer_id = ?1 AND since <= ?2 AND (until IS NULL OR until > ?2) "
                    + "ORDER BY pattern, methods";
    private static final String ADDED =
            "SELECT * FROM route_history WHERE issuer_id = ? AND since = ? ORDER BY pattern, methods";
    private static final String REMOVED =
            "SELECT * FROM route_history WHERE issuer_id = ? AND until = ? ORDER BY pattern, methods";
    private static final String LAST_VERSION =
            "SELECT coalesce(max(version), 0) AS version FROM route_history WHERE id = ?";

    private final Database database;

    public SqliteRevisions(Database database) {
        this.database = database;
    }

    @Override
    public void insert(Revision it) {
        database.update(INSERT, it.issuerId(), it.number(), it.at(), it.who(), it.whoId(), it.why());
    }

    @Override
    public void began(Route route, long number) {
        Object[] columns = SqliteRoutes.columns(route);
        Object[] all = Arrays.copyOf(columns, columns.length + 1);
        all[columns.length] = number;
        database.update(BEGAN, all);
    }

    @Override
    public void ended(String routeId, long number) {
        database.update(ENDED, number, routeId);
    }

    @Override
    public Page<Revision> list(String issuerId, Page.Ask ask) {
        ask.after().filter(it -> !it.matches("\\d{1,18}")).ifPresent(it -> {
            throw new Page.UnknownCursor(it);
        });
        return Page.of(
                database.list(
                        LIST,
                        SqliteRevisions::read,
                        issuerId,
                        ask.after().map(Long::parseLong).orElse(Long.MAX_VALUE),
                        ask.limit() + 1),
                ask,
                it -> String.valueOf(it.number()));
    }

    @Override
    public Optional<Revision> find(String issuerId, long number) {
        return database.one(FIND, SqliteRevisions::read, issuerId, number);
    }

    @Override
    public List<Route> at(String issuerId, long number) {
        return database.list(AT, SqliteRoutes::read, issuerId, number);
    }

    @Override
    public List<Step> steps(String issuerId, long number) {
        Map<String, Route> added = new LinkedHashMap<>();
        database.list(ADDED, SqliteRoutes::read, issuerId, number).forEach(it -> added.put(it.id(), it));
        List<Step> steps = new java.util.ArrayList<>();
        for (Route removed : database.list(REMOVED, SqliteRoutes::read, issuerId, number))
            steps.add(new Step(Optional.of(removed), Optional.ofNullable(added.remove(removed.id()))));
        added.values().forEach(it -> steps.add(new Step(Optional.empty(), Optional.of(it))));
        return steps;
    }

    @Override
    public long lastVersion(String routeId) {
        return database.one(LAST_VERSION, row -> row.number("version"), routeId).orElse(0L);
    }

    private static Revision read(Row row) throws SQLException {
        return new Revision(
                row.text("issuer_id"),
                row.number("number"),
                row.time("at"),
                row.text("who"),
                row.text("who_id"),
                row.text("why"));
    }
}
