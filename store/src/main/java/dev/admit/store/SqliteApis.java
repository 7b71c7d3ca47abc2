package dev.admit.store;

import dev.admit.core.change.Page;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.ApiSecret;
import dev.admit.core.registry.Apis;
import dev.admit.core.registry.Minting;
import dev.admit.core.registry.SecretHash;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import tools.jackson.databind.json.JsonMapper;

/** The tables {@code api} and {@code api_secret}. */
public final class SqliteApis implements Apis {
    private static final String INSERT =
            "INSERT INTO api (id, issuer_id, name, title, audience, upstream, minting, default_scopes, all_by_default, "
                    + "version, created_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)";
    private static final String UPDATE =
            "UPDATE api SET name = ?, title = ?, audience = ?, upstream = ?, minting = ?, default_scopes = ?, "
                    + "all_by_default = ?, "
                    + "version = ? WHERE id = ?";
    private static final String DELETE = "DELETE FROM api WHERE id = ?";
    private static final String NAMED = "SELECT * FROM api WHERE issuer_id = ? AND (name = ? OR id = ?)";
    private static final String WITH_AUDIENCE = "SELECT * FROM api WHERE issuer_id = ? AND audience = ?";
    private static final String LIST = """
            SELECT * FROM api WHERE issuer_id = ?1 AND name > ?2 AND (?3 IS NULL OR id IN (SELECT api_id FROM owner
            WHERE person_id = ?3)) ORDER BY name LIMIT ?4""";
    private static final String ALL = "SELECT * FROM api";

    private static final String INSERT_SECRET =
            "INSERT INTO api_secret (id, api_id, label, hash, created_at, expires_at) VALUES (?, ?, ?, ?, ?, ?)";
    private static final String DELETE_SECRET = "DELETE FROM api_secret WHERE id = ?";
    private static final String SECRETS = "SELECT * FROM api_secret WHERE api_id = ? ORDER BY created_at, id";
    private static final String ALL_SECRETS = "SELECT * FROM api_secret";
    private static final JsonMapper JSON = new JsonMapper();

    private final Database database;

    public SqliteApis(Database database) {
        this.database = database;
    }

    @Override
    public void insert(Api it) {
        database.update(
                INSERT,
                it.id(),
                it.issuerId(),
                it.name(),
                it.title(),
                it.audience(),
                it.upstream(),
                JSON.writeValueAsString(it.minting()),
                String.join("\n", it.defaultScopes()),
                it.allByDefault(),
                it.version(),
                it.createdAt());
    }

    @Override
    public void update(Api it) {
        database.update(
                UPDATE,
                it.name(),
                it.title(),
                it.audience(),
                it.upstream(),
                JSON.writeValueAsString(it.minting()),
                String.join("\n", it.defaultScopes()),
                it.allByDefault(),
                it.version(),
                it.id());
    }

    @Override
    public void delete(String apiId) {
        database.update(DELETE, apiId);
    }

    @Override
    public Optional<Api> named(String issuerId, String nameOrId) {
        return database.one(NAMED, SqliteApis::read, issuerId, nameOrId, nameOrId);
    }

    @Override
    public Optional<Api> withAudience(String issuerId, String audience) {
        return database.one(WITH_AUDIENCE, SqliteApis::read, issuerId, audience);
    }

    @Override
    public Page<Api> list(String issuerId, Optional<String> ownedBy, Page.Ask ask) {
        return Page.of(
                database.list(LIST, SqliteApis::read, issuerId, ask.after().orElse(""), ownedBy, ask.limit() + 1),
                ask,
                Api::name);
    }

    List<Api> all() {
        return database.list(ALL, SqliteApis::read);
    }

    @Override
    public void insert(ApiSecret it) {
        database.update(
                INSERT_SECRET, it.id(), it.apiId(), it.label(), it.hash().bytes(), it.createdAt(), it.expiresAt());
    }

    @Override
    public void deleteSecret(String secretId) {
        database.update(DELETE_SECRET, secretId);
    }

    @Override
    public List<ApiSecret> secretsOf(String apiId) {
        return database.list(SECRETS, SqliteApis::readSecret, apiId);
    }

    List<ApiSecret> allSecrets() {
        return database.list(ALL_SECRETS, SqliteApis::readSecret);
    }

    private static ApiSecret readSecret(Row row) throws SQLException {
        return new ApiSecret(
                row.text("id"),
                row.text("api_id"),
                row.text("label"),
                SecretHash.stored(row.bytes("hash")),
                row.time("created_at"),
                row.time("expires_at"));
    }

    static Api read(Row row) throws SQLException {
        return new Api(
                row.text("id"),
                row.text("issuer_id"),
                row.text("name"),
                row.text("title"),
                row.text("audience"),
                row.uriOrNone("upstream"),
                row.textOrNone("minting")
                        .map(text -> JSON.readValue(text, Minting.class))
                        .orElse(Minting.USUAL),
                row.lines("default_scopes"),
                row.flag("all_by_default"),
                row.number("version"),
                row.time("created_at"));
    }
}
