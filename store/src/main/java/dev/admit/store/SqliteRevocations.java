package dev.admit.store;

import dev.admit.core.token.Revocation;
import dev.admit.core.token.StoredRevocations;
import dev.admit.core.token.TokenId;
import java.sql.SQLException;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** The table {@code revocation}. */
public final class SqliteRevocations implements StoredRevocations {
    private static final String INSERT = """
            INSERT INTO revocation (client_id, scope, issuer_id, audience, token_id, person_id, session_id,
            grant_id, before_order, drop_at)
            VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)""";
    private static final String ALL = "SELECT * FROM revocation";
    private static final String DROP = "DELETE FROM revocation WHERE drop_at < ?";

    private final Database database;

    public SqliteRevocations(Database database) {
        this.database = database;
    }

    @Override
    public void insert(Revocation it) {
        switch (it.meant()) {
            case Revocation.Meant.OfClient(String clientId, Optional<String> scope) ->
                insert(it, clientId, scope, null, null, null, null, null, null);
            case Revocation.Meant.ForApi(String issuerId, String audience) ->
                insert(it, null, Optional.empty(), issuerId, audience, null, null, null, null);
            case Revocation.Meant.One(TokenId id) ->
                insert(it, null, Optional.empty(), null, null, id.toString(), null, null, null);
            case Revocation.Meant.OfPerson(String personId, Optional<String> clientId, Optional<String> scope) ->
                insert(it, clientId.orElse(null), scope, null, null, null, personId, null, null);
            case Revocation.Meant.OfPeople(String issuerId, String scope) ->
                insert(it, null, Optional.of(scope), issuerId, null, null, null, null, null);
            case Revocation.Meant.OfSession(String sessionId) ->
                insert(it, null, Optional.empty(), null, null, null, null, sessionId, null);
            case Revocation.Meant.OfGrant(String grantId) ->
                insert(it, null, Optional.empty(), null, null, null, null, null, grantId);
        }
    }

    private void insert(
            Revocation it,
            @Nullable String client,
            Optional<String> scope,
            @Nullable String issuer,
            @Nullable String audience,
            @Nullable String token,
            @Nullable String person,
            @Nullable String session,
            @Nullable String grant) {
        database.update(
                INSERT, client, scope, issuer, audience, token, person, session, grant, it.before(), it.dropAt());
    }

    @Override
    public List<Revocation> all() {
        return database.list(ALL, row -> new Revocation(meant(row), row.number("before_order"), row.time("drop_at")));
    }

    private static Revocation.Meant meant(Row row) throws SQLException {
        if (!row.isNull("token_id"))
            return new Revocation.Meant.One(TokenId.read(row.text("token_id")).orElseThrow());
        if (!row.isNull("audience")) return new Revocation.Meant.ForApi(row.text("issuer_id"), row.text("audience"));
        if (!row.isNull("person_id"))
            return new Revocation.Meant.OfPerson(
                    row.text("person_id"), row.textOrNone("client_id"), row.textOrNone("scope"));
        if (!row.isNull("session_id")) return new Revocation.Meant.OfSession(row.text("session_id"));
        if (!row.isNull("grant_id")) return new Revocation.Meant.OfGrant(row.text("grant_id"));
        if (!row.isNull("issuer_id")) return new Revocation.Meant.OfPeople(row.text("issuer_id"), row.text("scope"));
        return new Revocation.Meant.OfClient(row.text("client_id"), row.textOrNone("scope"));
    }

    @Override
    public int drop(Instant now) {
        return database.update(DROP, now);
    }
}
