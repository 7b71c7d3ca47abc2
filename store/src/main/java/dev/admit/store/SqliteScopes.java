package dev.admit.store;

import dev.admit.core.registry.ClientKind;
import dev.admit.core.registry.Scope;
import dev.admit.core.registry.Scopes;
import dev.admit.core.registry.StandingApproval;
import java.sql.SQLException;
import java.time.Instant;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import tools.jackson.databind.json.JsonMapper;

/** The table {@code scope}. */
public final class SqliteScopes implements Scopes {
    private static final String INSERT = """
            INSERT INTO scope (id, issuer_id, api_id, name, effect, reach, for_whom, consequence, approver, by_role,
                               status, closes_on, listed, standing, version)
            VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)""";
    private static final String UPDATE = """
            UPDATE scope SET effect = ?, reach = ?, for_whom = ?, consequence = ?, approver = ?, by_role = ?, status \
            = ?,
                             closes_on = ?, listed = ?, standing = ?, version = ?
            WHERE id = ?""";
    private static final String DELETE = "DELETE FROM scope WHERE id = ?";
    private static final String NAMED = "SELECT * FROM scope WHERE issuer_id = ? AND (name = ? OR id = ?)";
    private static final String OF_API = "SELECT * FROM scope WHERE api_id = ? ORDER BY name";
    private static final String WITH_STANDING =
            "SELECT * FROM scope WHERE issuer_id = ? AND standing IS NOT NULL ORDER BY name";
    private static final String ALL = "SELECT * FROM scope";

    private static final JsonMapper JSON = new JsonMapper();

    private final Database database;

    public SqliteScopes(Database database) {
        this.database = database;
    }

    @Override
    public void insert(Scope it) {
        database.update(
                INSERT,
                it.id(),
                it.issuerId(),
                it.apiId(),
                it.name(),
                it.effect(),
                it.reach(),
                it.forWhom(),
                it.consequence(),
                it.approver(),
                it.byRole(),
                it.status(),
                it.closesOn(),
                it.listed(),
                written(it),
                it.version());
    }

    @Override
    public void update(Scope it) {
        database.update(
                UPDATE,
                it.effect(),
                it.reach(),
                it.forWhom(),
                it.consequence(),
                it.approver(),
                it.byRole(),
                it.status(),
                it.closesOn(),
                it.listed(),
                written(it),
                it.version(),
                it.id());
    }

    @Override
    public void delete(String scopeId) {
        database.update(DELETE, scopeId);
    }

    @Override
    public Optional<Scope> named(String issuerId, String nameOrId) {
        return database.one(NAMED, SqliteScopes::read, issuerId, nameOrId, nameOrId);
    }

    @Override
    public List<Scope> of(String apiId) {
        return database.list(OF_API, SqliteScopes::read, apiId);
    }

    @Override
    public List<Scope> withStanding(String issuerId) {
        return database.list(WITH_STANDING, SqliteScopes::read, issuerId);
    }

    List<Scope> all() {
        return database.list(ALL, SqliteScopes::read);
    }

    private static Scope read(Row row) throws SQLException {
        return new Scope(
                row.text("id"),
                row.text("issuer_id"),
                row.text("api_id"),
                row.text("name"),
                row.word("effect", Scope.Effect.class),
                row.word("reach", Scope.Reach.class),
                row.word("for_whom", Scope.For.class),
                row.text("consequence"),
                row.word("approver", Scope.Approver.class),
                row.flag("by_role"),
                row.word("status", Scope.Status.class),
                row.timeOrNone("closes_on"),
                row.flag("listed"),
                row.textOrNone("standing")
                        .map(text -> JSON.readValue(text, Standing.class).approval()),
                row.number("version"));
    }

    private static Optional<String> written(Scope scope) {
        return scope.standing()
                .map(it -> JSON.writeValueAsString(new Standing(
                        1,
                        it.kinds().stream().map(ClientKind::toString).toList(),
                        it.tags(),
                        it.owners(),
                        it.setBy(),
                        it.setAt().toEpochMilli())));
    }

    /**
     * What stands in the column {@code standing}.
     *
     * @param form of this JSON
     */
    private record Standing(
            int form, List<String> kinds, List<String> tags, List<String> owners, String setBy, long setAt) {
        StandingApproval approval() {
            return new StandingApproval(
                    kinds.stream()
                            .map(it -> Arrays.stream(ClientKind.values())
                                    .filter(kind -> kind.toString().equals(it))
                                    .findFirst()
                                    .orElseThrow())
                            .toList(),
                    tags,
                    owners,
                    setBy,
                    Instant.ofEpochMilli(setAt));
        }
    }
}
