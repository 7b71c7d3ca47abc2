package dev.admit.store;

import dev.admit.core.registry.Role;
import dev.admit.core.registry.Roles;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;

/** The table {@code role}. */
public final class SqliteRoles implements Roles {
    private static final String INSERT =
            "INSERT INTO role (id, issuer_id, api_id, name, title, scopes, second_factor, version) VALUES (?, ?, ?, "
                    + "?, ?, ?, ?, ?)";
    private static final String UPDATE =
            "UPDATE role SET title = ?, scopes = ?, second_factor = ?, version = ? WHERE id = ?";
    private static final String DELETE = "DELETE FROM role WHERE id = ?";
    private static final String NAMED = "SELECT * FROM role WHERE issuer_id = ? AND (name = ? OR id = ?)";
    private static final String OF_API = "SELECT * FROM role WHERE api_id = ? ORDER BY name";

    private final Database database;

    public SqliteRoles(Database database) {
        this.database = database;
    }

    @Override
    public void insert(Role it) {
        database.update(
                INSERT,
                it.id(),
                it.issuerId(),
                it.apiId(),
                it.name(),
                it.title(),
                String.join(" ", it.scopes()),
                it.secondFactor(),
                it.version());
    }

    @Override
    public void update(Role it) {
        database.update(UPDATE, it.title(), String.join(" ", it.scopes()), it.secondFactor(), it.version(), it.id());
    }

    @Override
    public void delete(String roleId) {
        database.update(DELETE, roleId);
    }

    @Override
    public Optional<Role> named(String issuerId, String nameOrId) {
        return database.one(NAMED, SqliteRoles::read, issuerId, nameOrId, nameOrId);
    }

    @Override
    public List<Role> of(String apiId) {
        return database.list(OF_API, SqliteRoles::read, apiId);
    }

    List<Role> all() {
        return database.list("SELECT * FROM role", SqliteRoles::read);
    }

    private static Role read(Row row) throws SQLException {
        return new Role(
                row.text("id"),
                row.text("issuer_id"),
                row.text("api_id"),
                row.text("name"),
                row.text("title"),
                row.words("scopes"),
                row.flag("second_factor"),
                row.number("version"));
    }
}
