package dev.admit.store;

import dev.admit.core.change.Page;
import dev.admit.core.plan.Subscription;
import dev.admit.core.plan.Subscriptions;
import java.sql.SQLException;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.json.JsonMapper;

/** The table {@code subscription}. */
public final class SqliteSubscriptions implements Subscriptions {
    private static final String INSERT = """
            INSERT INTO subscription (id, issuer_id, client_id, plan_id, status, reason, accepted, on_version,
            moving_to, moving_terms, barred, requested_by, requested_at, decided_by, decided_at, version)
            VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)""";
    private static final String UPDATE = """
            UPDATE subscription SET plan_id = ?2, status = ?3, reason = ?4, accepted = ?5, on_version = ?6,
            moving_to = ?7, moving_terms = ?8, barred = ?9, decided_by = ?10, decided_at = ?11,
            version = ?12 WHERE id = ?1""";
    private static final String KEEP_ON = """
            UPDATE subscription SET on_version = ?2 WHERE plan_id = ?1 AND on_version IS NULL
            AND status IN ('waiting', 'active', 'paused')""";
    private static final String FIND = "SELECT * FROM subscription WHERE issuer_id = ? AND id = ?";
    private static final String FIND_ANYWHERE = "SELECT * FROM subscription WHERE id = ?";
    private static final String OF_CLIENT = "SELECT * FROM subscription WHERE client_id = ? ORDER BY id DESC";
    private static final String LIVE = "SELECT * FROM subscription WHERE status IN ('waiting', 'active', 'paused')";
    private static final String LIVE_OF_PLAN = """
            SELECT subscription.* FROM subscription JOIN client ON client.id = subscription.client_id
            WHERE plan_id = ? AND status IN ('waiting', 'active', 'paused') ORDER BY client.name""";
    private static final String LIST = """
            SELECT * FROM subscription WHERE issuer_id = ?1 AND id < ?2
            AND (?3 IS NULL OR client_id = ?3) AND (?4 IS NULL OR plan_id = ?4) AND (?5 IS NULL OR status = ?5)
            AND (?6 IS NULL OR client_id IN (SELECT owner.client_id FROM owner WHERE owner.person_id = ?6)
                OR plan_id IN (SELECT plan_api.plan_id FROM plan_api JOIN owner ON owner.api_id = plan_api.api_id
                    WHERE owner.person_id = ?6))
            ORDER BY id DESC LIMIT ?7""";
    private static final String NOTICE = """
            INSERT OR IGNORE INTO subscription_notice (subscription_id, what, told_at)
            SELECT id, ?2, ?3 FROM subscription WHERE id = ?1""";
    /** After every id. */
    private static final String LAST = "sub~";

    private static final JsonMapper JSON = new JsonMapper();

    private final Database database;

    public SqliteSubscriptions(Database database) {
        this.database = database;
    }

    private record Kept(long terms, String by, long at) {}

    private static @Nullable String json(Optional<Subscription.Accepted> it) {
        return it.map(terms -> JSON.writeValueAsString(
                        new Kept(terms.terms(), terms.by(), terms.at().toEpochMilli())))
                .orElse(null);
    }

    private static Optional<Subscription.Accepted> accepted(Row row, String column) throws SQLException {
        return row.textOrNone(column)
                .map(text -> JSON.readValue(text, Kept.class))
                .map(it -> new Subscription.Accepted(it.terms(), it.by(), Instant.ofEpochMilli(it.at())));
    }

    @Override
    public void insert(Subscription it) {
        database.update(
                INSERT,
                it.id(),
                it.issuerId(),
                it.clientId(),
                it.planId(),
                it.status(),
                it.reason(),
                json(it.accepted()),
                it.onVersion(),
                it.moving().map(Subscription.Moving::planId),
                json(it.moving().flatMap(Subscription.Moving::accepted)),
                it.barred(),
                it.requested().by(),
                it.requested().at(),
                it.decided().map(Subscription.Act::by),
                it.decided().map(Subscription.Act::at),
                it.version());
    }

    @Override
    public void update(Subscription it) {
        database.update(
                UPDATE,
                it.id(),
                it.planId(),
                it.status(),
                it.reason(),
                json(it.accepted()),
                it.onVersion(),
                it.moving().map(Subscription.Moving::planId),
                json(it.moving().flatMap(Subscription.Moving::accepted)),
                it.barred(),
                it.decided().map(Subscription.Act::by),
                it.decided().map(Subscription.Act::at),
                it.version());
    }

    @Override
    public void keepOn(String planId, long version) {
        database.update(KEEP_ON, planId, version);
    }

    @Override
    public Optional<Subscription> find(String issuerId, String id) {
        return database.one(FIND, SqliteSubscriptions::read, issuerId, id);
    }

    @Override
    public Optional<Subscription> find(String id) {
        return database.one(FIND_ANYWHERE, SqliteSubscriptions::read, id);
    }

    @Override
    public List<Subscription> ofClient(String clientId) {
        return database.list(OF_CLIENT, SqliteSubscriptions::read, clientId);
    }

    @Override
    public List<Subscription> liveOfPlan(String planId) {
        return database.list(LIVE_OF_PLAN, SqliteSubscriptions::read, planId);
    }

    @Override
    public List<Subscription> live() {
        return database.list(LIVE, SqliteSubscriptions::read);
    }

    @Override
    public Page<Subscription> list(String issuerId, Wanted it, Page.Ask ask) {
        return Page.of(
                database.list(
                        LIST,
                        SqliteSubscriptions::read,
                        issuerId,
                        ask.after().orElse(LAST),
                        it.clientId(),
                        it.planId(),
                        it.status(),
                        it.seenBy(),
                        ask.limit() + 1),
                ask,
                Subscription::id);
    }

    @Override
    public boolean isFirstNotice(String subscriptionId, String what, Instant at) {
        return database.update(NOTICE, subscriptionId, what, at) > 0;
    }

    private static Subscription read(Row row) throws SQLException {
        Optional<Subscription.Accepted> movingTerms = accepted(row, "moving_terms");
        Optional<String> decidedBy = row.textOrNone("decided_by");
        return new Subscription(
                row.text("id"),
                row.text("issuer_id"),
                row.text("client_id"),
                row.text("plan_id"),
                row.word("status", Subscription.Status.class),
                row.text("reason"),
                accepted(row, "accepted"),
                row.isNull("on_version") ? Optional.empty() : Optional.of(row.number("on_version")),
                row.textOrNone("moving_to").map(plan -> new Subscription.Moving(plan, movingTerms)),
                row.flag("barred"),
                new Subscription.Act(row.text("requested_by"), row.time("requested_at")),
                decidedBy.isEmpty()
                        ? Optional.empty()
                        : Optional.of(new Subscription.Act(decidedBy.get(), row.time("decided_at"))),
                row.number("version"));
    }
}
