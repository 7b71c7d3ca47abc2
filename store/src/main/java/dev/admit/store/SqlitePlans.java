package dev.admit.store;

import dev.admit.core.change.Page;
import dev.admit.core.plan.Plan;
import dev.admit.core.plan.Plans;
import dev.admit.core.route.Limits;
import dev.admit.core.route.PathPattern;
import java.sql.SQLException;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.TreeSet;
import tools.jackson.databind.json.JsonMapper;

/** The tables {@code plan}, {@code plan_api} and {@code plan_earlier}. */
public final class SqlitePlans implements Plans {
    private static final String INSERT = """
            INSERT INTO plan (id, issuer_id, name, title, description, approval, content, terms, terms_version, version,
            changed_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)""";
    private static final String UPDATE = """
            UPDATE plan SET title = ?2, description = ?3, approval = ?4, content = ?5, terms = ?6, terms_version = ?7,
            version = ?8, changed_at = ?9 WHERE id = ?1""";
    private static final String DELETE = "DELETE FROM plan WHERE id = ?";
    private static final String NAMED = "SELECT * FROM plan WHERE issuer_id = ?1 AND (name = ?2 OR id = ?2)";
    private static final String FIND = "SELECT * FROM plan WHERE id = ?";
    private static final String OF_API = """
            SELECT plan.* FROM plan JOIN plan_api ON plan_api.plan_id = plan.id WHERE plan_api.api_id = ?
            ORDER BY plan.name""";
    private static final String LIST = """
            SELECT * FROM plan WHERE issuer_id = ?1 AND name > ?2 AND (?3 IS NULL OR id IN (SELECT plan_api.plan_id
            FROM plan_api JOIN owner ON owner.api_id = plan_api.api_id WHERE owner.person_id = ?3))
            ORDER BY name LIMIT ?4""";
    private static final String CLEAR_APIS = "DELETE FROM plan_api WHERE plan_id = ?";
    private static final String ADD_API = "INSERT INTO plan_api (plan_id, api_id) VALUES (?, ?)";
    private static final String EARLIER = "SELECT * FROM plan_earlier WHERE plan_id = ? ORDER BY version DESC";
    private static final String CLEAR_EARLIER = "DELETE FROM plan_earlier WHERE plan_id = ?";
    private static final String ADD_EARLIER =
            "INSERT INTO plan_earlier (plan_id, version, content, until_at) VALUES (?, ?, ?, ?)";

    private static final JsonMapper JSON = new JsonMapper();

    private final Database database;

    public SqlitePlans(Database database) {
        this.database = database;
    }

    private record Kept(
            List<KeptOperation> operations,
            List<Limits.Rate> rates,
            List<Limits.Quota> quotas,
            Optional<Duration> secretLifetime) {}

    private record KeptOperation(String api, List<String> methods, String path) {}

    private static String json(Plan.Content it) {
        return JSON.writeValueAsString(new Kept(
                it.operations().stream()
                        .map(op -> new KeptOperation(
                                op.apiId(), List.copyOf(op.methods()), op.path().toString()))
                        .toList(),
                it.rates(),
                it.quotas(),
                it.secretLifetime()));
    }

    private static Plan.Content content(Row row) throws SQLException {
        Kept kept = JSON.readValue(row.text("content"), Kept.class);
        return new Plan.Content(
                kept.operations().stream()
                        .map(it -> new Plan.Operation(it.api(), new TreeSet<>(it.methods()), pattern(it.path())))
                        .toList(),
                kept.rates(),
                kept.quotas(),
                kept.secretLifetime());
    }

    private static PathPattern pattern(String text) {
        if (PathPattern.read(text) instanceof PathPattern.Reading.Good(PathPattern pattern)) return pattern;
        throw new IllegalStateException("no path pattern: " + text); // it was one when it was written
    }

    @Override
    public void insert(Plan it) {
        database.inOne(() -> {
            database.update(
                    INSERT,
                    it.id(),
                    it.issuerId(),
                    it.name(),
                    it.title(),
                    it.description(),
                    it.approval(),
                    json(it.content()),
                    it.terms().text(),
                    it.terms().version(),
                    it.version(),
                    it.changedAt());
            putParts(it);
            return null;
        });
    }

    @Override
    public void update(Plan it) {
        database.inOne(() -> {
            database.update(
                    UPDATE,
                    it.id(),
                    it.title(),
                    it.description(),
                    it.approval(),
                    json(it.content()),
                    it.terms().text(),
                    it.terms().version(),
                    it.version(),
                    it.changedAt());
            putParts(it);
            return null;
        });
    }

    private void putParts(Plan it) {
        database.update(CLEAR_APIS, it.id());
        database.updateEach(ADD_API, List.copyOf(it.content().apiIds()), apiId -> new Object[] {it.id(), apiId});
        database.update(CLEAR_EARLIER, it.id());
        database.updateEach(ADD_EARLIER, it.earlier(), was ->
                new Object[] {it.id(), was.version(), json(was.content()), was.until()});
    }

    @Override
    public void delete(String planId) {
        database.update(DELETE, planId);
    }

    @Override
    public Optional<Plan> named(String issuerId, String nameOrId) {
        return database.one(NAMED, this::read, issuerId, nameOrId);
    }

    @Override
    public Optional<Plan> find(String planId) {
        return database.one(FIND, this::read, planId);
    }

    @Override
    public List<Plan> ofApi(String apiId) {
        return database.list(OF_API, this::read, apiId);
    }

    @Override
    public Page<Plan> list(String issuerId, Optional<String> ownedBy, Page.Ask ask) {
        return Page.of(
                database.list(LIST, this::read, issuerId, ask.after().orElse(""), ownedBy, ask.limit() + 1),
                ask,
                Plan::name);
    }

    private Plan read(Row row) throws SQLException {
        String id = row.text("id");
        return new Plan(
                id,
                row.text("issuer_id"),
                row.text("name"),
                row.text("title"),
                row.text("description"),
                row.word("approval", Plan.Approval.class),
                content(row),
                new Plan.Terms(row.number("terms_version"), row.text("terms")),
                database.list(
                        EARLIER,
                        was -> new Plan.Earlier(was.number("version"), content(was), was.time("until_at")),
                        id),
                row.number("version"),
                row.time("changed_at"));
    }
}
