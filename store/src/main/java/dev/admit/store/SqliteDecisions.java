package dev.admit.store;

import dev.admit.core.accessmap.AccessMap.Passed;
import dev.admit.core.change.Ids;
import dev.admit.core.change.Page;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Decision;
import dev.admit.core.decision.Decisions;
import dev.admit.core.decision.Endpoint;
import dev.admit.core.decision.Refusal;
import dev.admit.core.decision.Verdict;
import java.sql.SQLException;
import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/** The table {@code decision}. */
public final class SqliteDecisions implements Decisions {
    private static final String INSERT = """
            INSERT INTO decision (id, at, endpoint, issuer, client_id, client_name, subject, api, route, revision,
            method, path, scopes,
                                  from_address, verdict, reason, answered, micros, checks, done)
            VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)""";
    /** The gateway knows a client by its id; people know it by its name, which is looked up when the record is read. */
    private static final String COLUMNS = """
            SELECT decision.*, coalesce(nullif(client_name, ''), (SELECT name FROM client WHERE client.id =
            client_id), '') AS client_called
            FROM decision
            """;

    private static final String FIND = COLUMNS + "WHERE id = ?";
    private static final String FITTING = """
            WHERE id < ?1 AND (?2 IS NULL OR issuer = ?2 OR ?13 AND issuer = '') AND (?3 IS NULL OR client_id = ?3 OR
            client_called = ?3)
              AND (?4 IS NULL OR route = ?4) AND (?5 IS NULL OR verdict = ?5) AND (?6 IS NULL OR reason = ?6) AND (?7
            IS NULL OR endpoint = ?7)
              AND (?8 IS NULL OR client_id IN (SELECT owner.client_id FROM owner WHERE owner.person_id = ?8)
                   OR EXISTS (SELECT 1 FROM owner JOIN api ON api.id = owner.api_id JOIN issuer ON issuer.id =
            api.issuer_id
                              WHERE owner.person_id = ?8 AND api.name = decision.api AND issuer.name = decision.issuer))
              AND (?9 IS NULL OR subject = ?9 OR subject IN (SELECT person.id FROM person WHERE person.email = ?9))
              AND (?10 IS NULL OR api = ?10) AND (?11 IS NULL OR at >= ?11) AND (?12 IS NULL OR at < ?12)
            """;
    private static final String LIST = COLUMNS + FITTING + "ORDER BY id DESC LIMIT ?14";
    private static final String COUNT =
            "SELECT what, stretch, count(*) AS decisions FROM (" + """
            SELECT CASE ?14 WHEN 'client' THEN client_called WHEN 'person' THEN subject WHEN 'api' THEN api WHEN
            'route' THEN route WHEN 'verdict' THEN verdict
                            WHEN 'reason' THEN reason ELSE endpoint END AS what,
                   CASE WHEN ?15 IS NULL THEN NULL ELSE at / ?15 * ?15 END AS stretch FROM
            (""" + COLUMNS + FITTING + """
            )) GROUP BY what, stretch ORDER BY stretch DESC, decisions DESC, what LIMIT 10000""";
    private static final String PASSED = """
            SELECT client_id, route, sum(verdict = 'admitted') AS admitted, sum(verdict = 'refused') AS refused FROM (
                SELECT client_id, route, verdict FROM decision WHERE id >= ?1 AND endpoint = 'gateway' AND issuer = ?2
            ORDER BY id DESC LIMIT ?3)
            GROUP BY client_id, route""";
    private static final String FORGET = "DELETE FROM decision WHERE id < ?";
    private static final String AFTER_ALL = "dec_~";

    private final Database database;

    public SqliteDecisions(Database database) {
        this.database = database;
    }

    @Override
    public void keep(List<Decision> batch) {
        database.updateEach(INSERT, batch, SqliteDecisions::values);
    }

    private static Object[] values(Decision it) {
        Decision.About about = it.about();
        return new Object[] {
            it.id(),
            it.at(),
            it.endpoint(),
            about.issuer(),
            about.clientId(),
            about.clientName(),
            about.subject(),
            about.api(),
            about.route(),
            about.revision(),
            about.method(),
            about.path(),
            about.scopes(),
            about.from(),
            it.verdict(),
            it.refusal().map(why -> why.reason().toString()).orElse(""),
            it.answered(),
            it.micros(),
            DecisionJson.write(it.checks(), it.took()),
            DecisionJson.writePhrases(it.done())
        };
    }

    @Override
    public Optional<Decision> find(String id) {
        return database.one(FIND, SqliteDecisions::read, id);
    }

    @Override
    public Page<Decision> list(Filter filter, Page.Ask ask) {
        return Page.of(
                database.list(
                        LIST, SqliteDecisions::read, with(filter, ask.after().orElse(AFTER_ALL), ask.limit() + 1)),
                ask,
                Decision::id);
    }

    @Override
    public List<Count> count(Filter filter, By by, Optional<Duration> per) {
        return database.list(
                COUNT,
                row -> new Count(row.text("what"), row.timeOrNone("stretch"), row.number("decisions")),
                with(filter, AFTER_ALL, by, per.map(Duration::toMillis)));
    }

    @Override
    public List<Passed> passed(String issuer, Instant since, int most) {
        return database.list(
                PASSED,
                row -> new Passed(
                        row.text("client_id"), row.text("route"), row.number("admitted"), row.number("refused")),
                idAt(since),
                issuer,
                most);
    }

    private static Object[] with(Filter it, String before, Object... more) {
        Object[] values = {
            before,
            it.issuer(),
            it.client(),
            it.route(),
            it.verdict(),
            it.reason(),
            it.endpoint(),
            it.ownedBy(),
            it.person(),
            it.api(),
            it.since(),
            it.until(),
            it.unrouted()
        };
        Object[] all = Arrays.copyOf(values, values.length + more.length);
        System.arraycopy(more, 0, all, values.length, more.length);
        return all;
    }

    @Override
    public int forget(Instant before) {
        return database.update(FORGET, idAt(before));
    }

    /** Ids grow with time: this one is before all of that moment or later. */
    private static String idAt(Instant time) {
        return Ids.timeOrdered("dec_", time.toEpochMilli()).substring(0, "dec_".length() + 10);
    }

    private static Decision read(Row row) throws SQLException {
        List<CheckResult> checks = DecisionJson.read(row.text("checks"));
        Optional<Refusal> refusal = checks.stream()
                .filter(CheckResult.Refused.class::isInstance)
                .map(check -> ((CheckResult.Refused) check).refusal())
                .findFirst();
        Decision.About about = new Decision.About(
                row.text("issuer"),
                row.text("client_id"),
                row.text("client_called"),
                row.text("subject"),
                row.text("api"),
                row.text("route"),
                row.number("revision"),
                row.text("method"),
                row.text("path"),
                row.text("scopes"),
                row.text("from_address"));
        return new Decision(
                row.text("id"),
                row.time("at"),
                row.word("endpoint", Endpoint.class),
                about,
                checks,
                row.word("verdict", Verdict.class),
                refusal,
                (int) row.number("answered"),
                DecisionJson.readPhrases(row.text("done")),
                row.number("micros"),
                DecisionJson.readTook(row.text("checks")));
    }
}
