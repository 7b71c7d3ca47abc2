package dev.admit.store;

import dev.admit.core.registry.SecretHash;
import dev.admit.core.token.OpaqueToken;
import dev.admit.core.token.OpaqueTokens;
import dev.admit.core.token.TokenId;
import java.sql.SQLException;
import java.time.Instant;
import java.util.Map;
import java.util.Optional;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.json.JsonMapper;

/** The table {@code opaque_token}. */
public final class SqliteOpaqueTokens implements OpaqueTokens {
    private static final String INSERT = """
            INSERT INTO opaque_token (hash, token_id, issuer_id, client_id, subject, audience, scopes, claims,
            issued_at, expires_at)
            VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)""";
    private static final String FIND = "SELECT * FROM opaque_token WHERE hash = ?";
    private static final String DROP = "DELETE FROM opaque_token WHERE expires_at < ?";

    private static final JsonMapper JSON = new JsonMapper();
    private static final TypeReference<Map<String, Object>> MAP = new TypeReference<>() {};

    private final Database database;

    public SqliteOpaqueTokens(Database database) {
        this.database = database;
    }

    @Override
    public void insert(OpaqueToken it) {
        database.update(
                INSERT,
                it.hash().bytes(),
                it.id().toString(),
                it.issuerId(),
                it.clientId(),
                it.subject(),
                it.audience(),
                String.join(" ", it.scopes()),
                JSON.writeValueAsString(it.claims()),
                it.issuedAt(),
                it.expiresAt());
    }

    @Override
    public Optional<OpaqueToken> find(SecretHash hash) {
        return database.one(FIND, SqliteOpaqueTokens::read, hash.bytes());
    }

    @Override
    public int drop(Instant now) {
        return database.update(DROP, now);
    }

    private static OpaqueToken read(Row row) throws SQLException {
        return new OpaqueToken(
                SecretHash.stored(row.bytes("hash")),
                TokenId.read(row.text("token_id")).orElseThrow(),
                row.text("issuer_id"),
                row.text("client_id"),
                row.text("subject"),
                row.text("audience"),
                row.words("scopes"),
                JSON.readValue(row.text("claims"), MAP),
                row.time("issued_at"),
                row.time("expires_at"));
    }
}
