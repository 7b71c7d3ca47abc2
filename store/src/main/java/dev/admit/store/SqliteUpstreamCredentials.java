package dev.admit.store;

import dev.admit.core.upstream.UpstreamCredential;
import dev.admit.core.upstream.UpstreamCredential.Shown;
import dev.admit.core.upstream.UpstreamCredentials;
import java.net.URI;
import java.sql.SQLException;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.json.JsonMapper;

/** The table {@code upstream_credential}. */
public final class SqliteUpstreamCredentials implements UpstreamCredentials {
    private static final String INSERT =
            "INSERT INTO upstream_credential (name, upstream, settings, sealed, version, created_at, id, issuer_id) "
                    + "VALUES (?, ?, ?, ?, ?, ?, ?, ?)";
    private static final String UPDATE =
            "UPDATE upstream_credential SET upstream = ?, settings = ?, sealed = ?, version = ? WHERE id = ?";
    private static final String DELETE = "DELETE FROM upstream_credential WHERE id = ?";
    private static final String NAMED =
            "SELECT * FROM upstream_credential WHERE issuer_id = ?1 AND (name = ?2 OR id = ?2)";
    private static final String OF = "SELECT * FROM upstream_credential WHERE issuer_id = ? ORDER BY name";
    private static final String ALL = "SELECT * FROM upstream_credential ORDER BY name";
    private static final JsonMapper JSON = new JsonMapper();

    private final Database database;

    public SqliteUpstreamCredentials(Database database) {
        this.database = database;
    }

    /** Of header, user and clientId the one that is there says which it is. */
    private record Words(
            @Nullable String header,
            @Nullable String user,
            @Nullable String clientId,
            @Nullable URI issuer,
            @Nullable URI tokenEndpoint,
            @Nullable Boolean inBody,
            @Nullable String scope,
            @Nullable Map<String, String> parameters) {
        static Words of(Shown shown) {
            return switch (shown) {
                case Shown.Header(String name) -> new Words(name, null, null, null, null, null, null, null);
                case Shown.Login(String user) -> new Words(null, user, null, null, null, null, null, null);
                case Shown.Token it ->
                    new Words(
                            null,
                            null,
                            it.clientId(),
                            it.issuer().orElse(null),
                            it.tokenEndpoint().orElse(null),
                            it.inBody(),
                            it.scope().orElse(null),
                            it.parameters());
            };
        }

        Shown shown() {
            if (header != null) return new Shown.Header(header);
            if (user != null) return new Shown.Login(user);
            return new Shown.Token(
                    Optional.ofNullable(issuer),
                    Optional.ofNullable(tokenEndpoint),
                    Objects.requireNonNull(clientId),
                    Boolean.TRUE.equals(inBody),
                    Optional.ofNullable(scope),
                    parameters == null ? Map.of() : parameters);
        }
    }

    @Override
    public void insert(Stored kept) {
        UpstreamCredential it = kept.credential();
        database.update(
                INSERT,
                it.name(),
                it.upstream(),
                JSON.writeValueAsString(Words.of(it.shown())),
                kept.sealed(),
                it.version(),
                it.createdAt(),
                it.id(),
                it.issuerId());
    }

    @Override
    public void update(Stored kept) {
        UpstreamCredential it = kept.credential();
        database.update(
                UPDATE,
                it.upstream(),
                JSON.writeValueAsString(Words.of(it.shown())),
                kept.sealed(),
                it.version(),
                it.id());
    }

    @Override
    public void delete(String id) {
        database.update(DELETE, id);
    }

    @Override
    public Optional<Stored> named(String issuerId, String name) {
        return database.one(NAMED, SqliteUpstreamCredentials::read, issuerId, name);
    }

    @Override
    public List<Stored> of(String issuerId) {
        return database.list(OF, SqliteUpstreamCredentials::read, issuerId);
    }

    List<Stored> all() {
        return database.list(ALL, SqliteUpstreamCredentials::read);
    }

    private static Stored read(Row row) throws SQLException {
        return new Stored(
                new UpstreamCredential(
                        row.text("id"),
                        row.text("issuer_id"),
                        row.text("name"),
                        row.uriOrNone("upstream").orElseThrow(),
                        JSON.readValue(row.text("settings"), Words.class).shown(),
                        row.number("version"),
                        row.time("created_at")),
                row.bytes("sealed"));
    }
}
