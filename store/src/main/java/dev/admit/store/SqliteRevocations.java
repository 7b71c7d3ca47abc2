package dev.admit.store;

import dev.admit.core.token.KeptRevocations;
import dev.admit.core.token.Revocation;
import dev.admit.core.token.TokenId;
import java.sql.SQLException;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/** The table {@code revocation}. */
public final class SqliteRevocations implements KeptRevocations {
    private static final String INSERT = "INSERT INTO revocation (client_id, scope, issuer_id, audience, token_id, before_order, drop_at) VALUES (?, ?, ?, ?, ?, ?, ?)";
    private static final String ALL = "SELECT * FROM revocation";
    private static final String DROP = "DELETE FROM revocation WHERE drop_at < ?";

    private final Database database;

    public SqliteRevocations(Database database) {
        this.database = database;
    }

    @Override public void insert(Revocation it) {
        switch (it.meant()) {
            case Revocation.Meant.OfClient(String clientId, Optional<String> scope) -> database.update(INSERT, clientId, scope, null, null, null, it.before(), it.dropAt());
            case Revocation.Meant.ForApi(String issuerId, String audience) -> database.update(INSERT, null, null, issuerId, audience, null, it.before(), it.dropAt());
            case Revocation.Meant.One(TokenId id) -> database.update(INSERT, null, null, null, null, id.toString(), it.before(), it.dropAt());
        }
    }

    @Override public List<Revocation> all() {
        return database.list(ALL, row -> new Revocation(meant(row), row.number("before_order"), row.time("drop_at")));
    }

    private static Revocation.Meant meant(Row row) throws SQLException {
        if (!row.isNull("token_id")) return new Revocation.Meant.One(TokenId.read(row.text("token_id")).orElseThrow());
        if (!row.isNull("audience")) return new Revocation.Meant.ForApi(row.text("issuer_id"), row.text("audience"));
        return new Revocation.Meant.OfClient(row.text("client_id"), row.textOrNone("scope"));
    }

    @Override public int drop(Instant now) {
        return database.update(DROP, now);
    }
}
