package dev.admit.store;

import dev.admit.core.change.Page;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.ClientAuthMethod;
import dev.admit.core.registry.ClientKind;
import dev.admit.core.registry.ClientSecret;
import dev.admit.core.registry.Clients;
import dev.admit.core.registry.SecretHash;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;

/** The tables {@code client} and {@code client_secret}. */
public final class SqliteClients implements Clients {
    private static final String INSERT = """
            INSERT INTO client (id, issuer_id, name, title, kind, auth_method, owner, enabled, version, created_at)
            VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)""";
    private static final String UPDATE = 
            "UPDATE client SET name = ?, title = ?, kind = ?, auth_method = ?, owner = ?, enabled = ?, version = ? WHERE id = ?";
    private static final String DELETE = "DELETE FROM client WHERE id = ?";
    private static final String WITH_ID = "SELECT * FROM client WHERE id = ?";
    private static final String NAMED = "SELECT * FROM client WHERE issuer_id = ? AND (name = ? OR id = ?)";
    private static final String LIST = """
            SELECT * FROM client WHERE issuer_id = ? AND name > ?
              AND (?3 = '' OR instr(name, ?3) > 0 OR instr(id, ?3) > 0 OR instr(lower(title), lower(?3)) > 0)
            ORDER BY name LIMIT ?4""";
    private static final String INSERT_SECRET =
            "INSERT INTO client_secret (id, client_id, label, hash, created_at, expires_at) VALUES (?, ?, ?, ?, ?, ?)";
    private static final String DELETE_SECRET = "DELETE FROM client_secret WHERE id = ?";
    private static final String SECRETS = "SELECT * FROM client_secret WHERE client_id = ? ORDER BY created_at, id";

    private final Database database;

    public SqliteClients(Database database) {
        this.database = database;
    }

    @Override public void insert(Client it) {
        database.update(INSERT, it.id(), it.issuerId(), it.name(), it.title(), it.kind(), it.authMethod(), it.owner(), it.enabled(),
                it.version(), it.createdAt());
    }

    @Override public void update(Client it) {
        database.update(UPDATE, it.name(), it.title(), it.kind(), it.authMethod(), it.owner(), it.enabled(), it.version(), it.id());
    }

    @Override public void delete(String clientId) {
        database.update(DELETE, clientId);
    }

    /** By client id, in whichever issuer. */
    Optional<Client> withId(String clientId) {
        return database.one(WITH_ID, SqliteClients::read, clientId);
    }

    @Override public Optional<Client> named(String issuerId, String nameOrId) {
        return database.one(NAMED, SqliteClients::read, issuerId, nameOrId, nameOrId);
    }

    @Override public Page<Client> list(String issuerId, String holding, Page.Ask ask) {
        return Page.of(database.list(LIST, SqliteClients::read, issuerId, ask.after().orElse(""), holding, ask.limit() + 1), ask, Client::name);
    }

    @Override public void insert(ClientSecret it) {
        database.update(INSERT_SECRET, it.id(), it.clientId(), it.label(), it.hash().bytes(), it.createdAt(), it.expiresAt());
    }

    @Override public void deleteSecret(String secretId) {
        database.update(DELETE_SECRET, secretId);
    }

    @Override public List<ClientSecret> secretsOf(String clientId) {
        return database.list(SECRETS, SqliteClients::readSecret, clientId);
    }

    private static Client read(Row row) throws SQLException {
        return new Client(row.text("id"), row.text("issuer_id"), row.text("name"), row.text("title"), row.word("kind", ClientKind.class),
                row.word("auth_method", ClientAuthMethod.class), row.text("owner"), row.flag("enabled"), row.number("version"), row.time("created_at"));
    }

    private static ClientSecret readSecret(Row row) throws SQLException {
        return new ClientSecret(row.text("id"), row.text("client_id"), row.text("label"), SecretHash.stored(row.bytes("hash")),
                row.time("created_at"), row.time("expires_at"));
    }
}
