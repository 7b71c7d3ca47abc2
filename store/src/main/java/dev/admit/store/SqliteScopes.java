package dev.admit.store;

import dev.admit.core.registry.Scope;
import dev.admit.core.registry.Scopes;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;

/** The table {@code scope}. */
public final class SqliteScopes implements Scopes {
    private static final String INSERT = """
            INSERT INTO scope (id, issuer_id, api_id, name, effect, reach, holders, words, words_for_person, approver, by_role, life,
                               closes_on, given_by_default, in_metadata, version)
            VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)""";
    private static final String UPDATE = """
            UPDATE scope SET effect = ?, reach = ?, holders = ?, words = ?, words_for_person = ?, approver = ?, by_role = ?, life = ?,
                             closes_on = ?, given_by_default = ?, in_metadata = ?, version = ? WHERE id = ?""";
    private static final String DELETE = "DELETE FROM scope WHERE id = ?";
    private static final String NAMED = "SELECT * FROM scope WHERE issuer_id = ? AND (name = ? OR id = ?)";
    private static final String OF_API = "SELECT * FROM scope WHERE api_id = ? ORDER BY name";
    private static final String ALL = "SELECT * FROM scope";

    private final Database database;

    public SqliteScopes(Database database) {
        this.database = database;
    }

    @Override public void insert(Scope it) {
        database.update(INSERT, it.id(), it.issuerId(), it.apiId(), it.name(), it.effect(), it.reach(), it.holders(), it.words(),
                it.wordsForPerson(), it.approver(), it.byRole(), it.life(), it.closesOn(), it.givenByDefault(), it.inMetadata(), it.version());
    }

    @Override public void update(Scope it) {
        database.update(UPDATE, it.effect(), it.reach(), it.holders(), it.words(), it.wordsForPerson(), it.approver(), it.byRole(),
                it.life(), it.closesOn(), it.givenByDefault(), it.inMetadata(), it.version(), it.id());
    }

    @Override public void delete(String scopeId) {
        database.update(DELETE, scopeId);
    }

    @Override public Optional<Scope> named(String issuerId, String nameOrId) {
        return database.one(NAMED, SqliteScopes::read, issuerId, nameOrId, nameOrId);
    }

    @Override public List<Scope> of(String apiId) {
        return database.list(OF_API, SqliteScopes::read, apiId);
    }

    List<Scope> all() {
        return database.list(ALL, SqliteScopes::read);
    }

    private static Scope read(Row row) throws SQLException {
        return new Scope(row.text("id"), row.text("issuer_id"), row.text("api_id"), row.text("name"), row.word("effect", Scope.Effect.class),
                row.word("reach", Scope.Reach.class), row.word("holders", Scope.Holders.class), row.text("words"),
                row.textOrNone("words_for_person"), row.word("approver", Scope.Approver.class), row.flag("by_role"),
                row.word("life", Scope.Life.class), row.timeOrNone("closes_on"), row.flag("given_by_default"), row.flag("in_metadata"),
                row.number("version"));
    }
}
