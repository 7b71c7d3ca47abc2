package dev.admit.store;

import dev.admit.core.authorization.AuthorizationGrant;
import dev.admit.core.authorization.AuthorizationGrants;
import dev.admit.core.authorization.IssuedCode;
import dev.admit.core.authorization.RefreshToken;
import dev.admit.core.registry.SecretHash;
import java.sql.SQLException;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/** The tables {@code grant}, {@code authorization_code} and {@code refresh_token}. */
public final class SqliteAuthorizationGrants implements AuthorizationGrants {
    private static final String INSERT = """
            INSERT INTO authorization_grant (id, issuer_id, client_id, person_id, session_id, scopes, resources, \
            nonce, auth_time,
            methods, started_at, ends_at, ended_at)
            VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)""";
    private static final String FIND = "SELECT * FROM authorization_grant WHERE id = ?";
    private static final String OF_PERSON =
            "SELECT * FROM authorization_grant WHERE person_id = ? AND ended_at IS NULL AND ends_at > ? ORDER BY "
                    + "started_at "
                    + "DESC, id";
    private static final String END = "UPDATE authorization_grant SET ended_at = ? WHERE id = ? AND ended_at IS NULL";
    private static final String END_OF_PERSON =
            "UPDATE authorization_grant SET ended_at = ?1 WHERE person_id = ?2 AND ended_at IS NULL AND (?3 IS NULL "
                    + "OR client_id "
                    + "= ?3)";
    private static final String INSERT_CODE = """
            INSERT INTO authorization_code (hash, grant_id, client_id, redirect_uri, challenge, expires_at, used_at)
            VALUES (?, ?, ?, ?, ?, ?, ?)""";
    private static final String CODE = "SELECT * FROM authorization_code WHERE hash = ?";
    private static final String CLAIM_CODE =
            "UPDATE authorization_code SET used_at = ? WHERE hash = ? AND used_at IS NULL";
    private static final String INSERT_REFRESH =
            "INSERT INTO refresh_token (hash, grant_id, client_id, issued_at, expires_at, used_at) VALUES (?, ?, "
                    + "?, ?, ?, ?)";
    private static final String REFRESH = "SELECT * FROM refresh_token WHERE hash = ?";
    private static final String CLAIM_REFRESH =
            "UPDATE refresh_token SET used_at = ? WHERE hash = ? AND used_at IS NULL";
    // As if used long ago: the one who comes with one of these has an answer that was not for them.
    private static final String SUPERSEDE =
            "UPDATE refresh_token SET used_at = 0 WHERE grant_id = ? AND used_at IS NULL";
    // The one that was used first of those that came after is the sign that the answer did arrive.
    private static final String SUCCESSOR_USED =
            "SELECT count(*) AS n FROM refresh_token WHERE grant_id = ? AND issued_at >= ? AND used_at > 0";
    private static final String DROP = "DELETE FROM authorization_grant WHERE ends_at < ?1 OR ended_at < ?1";
    // A used token is looked for again only to tell that it was stolen; after its own end nobody can use it anyway.
    private static final String DROP_REFRESH = "DELETE FROM refresh_token WHERE expires_at < ?";

    private final Database database;

    public SqliteAuthorizationGrants(Database database) {
        this.database = database;
    }

    @Override
    public void insert(AuthorizationGrant it) {
        database.update(
                INSERT,
                it.id(),
                it.issuerId(),
                it.clientId(),
                it.personId(),
                it.sessionId(),
                String.join(" ", it.scopes()),
                String.join(" ", it.resources()),
                it.nonce(),
                it.authTime(),
                String.join(" ", it.methods()),
                it.startedAt(),
                it.endsAt(),
                it.endedAt());
    }

    @Override
    public Optional<AuthorizationGrant> find(String grantId) {
        return database.one(FIND, SqliteAuthorizationGrants::read, grantId);
    }

    @Override
    public List<AuthorizationGrant> ofPerson(String personId, Instant now) {
        return database.list(OF_PERSON, SqliteAuthorizationGrants::read, personId, now);
    }

    @Override
    public void end(String grantId, Instant now) {
        database.update(END, now, grantId);
    }

    @Override
    public void endOfPerson(String personId, Optional<String> clientId, Instant now) {
        database.update(END_OF_PERSON, now, personId, clientId);
    }

    @Override
    public void insert(IssuedCode it) {
        database.update(
                INSERT_CODE,
                it.hash().bytes(),
                it.grantId(),
                it.clientId(),
                it.redirectUri(),
                it.challenge(),
                it.expiresAt(),
                it.usedAt());
    }

    @Override
    public Optional<IssuedCode> code(SecretHash hash) {
        return database.one(CODE, SqliteAuthorizationGrants::readCode, hash.bytes());
    }

    @Override
    public boolean claimCode(SecretHash hash, Instant now) {
        return database.update(CLAIM_CODE, now, hash.bytes()) == 1;
    }

    @Override
    public void insert(RefreshToken it) {
        database.update(
                INSERT_REFRESH,
                it.hash().bytes(),
                it.grantId(),
                it.clientId(),
                it.issuedAt(),
                it.expiresAt(),
                it.usedAt());
    }

    @Override
    public Optional<RefreshToken> refreshToken(SecretHash hash) {
        return database.one(REFRESH, SqliteAuthorizationGrants::readRefresh, hash.bytes());
    }

    @Override
    public boolean claimRefreshToken(SecretHash hash, Instant now) {
        return database.update(CLAIM_REFRESH, now, hash.bytes()) == 1;
    }

    @Override
    public int supersede(String grantId) {
        return database.update(SUPERSEDE, grantId);
    }

    @Override
    public boolean isSuccessorUsed(String grantId, Instant since) {
        return database.one(SUCCESSOR_USED, row -> row.number("n") > 0, grantId, since)
                .orElse(false);
    }

    @Override
    public int drop(Instant before) {
        database.update(DROP_REFRESH, before);
        return database.update(DROP, before);
    }

    private static AuthorizationGrant read(Row row) throws SQLException {
        return new AuthorizationGrant(
                row.text("id"),
                row.text("issuer_id"),
                row.text("client_id"),
                row.text("person_id"),
                row.textOrNone("session_id"),
                row.words("scopes"),
                row.words("resources"),
                row.textOrNone("nonce"),
                row.time("auth_time"),
                row.words("methods"),
                row.time("started_at"),
                row.time("ends_at"),
                row.timeOrNone("ended_at"));
    }

    private static IssuedCode readCode(Row row) throws SQLException {
        return new IssuedCode(
                SecretHash.stored(row.bytes("hash")),
                row.text("grant_id"),
                row.text("client_id"),
                row.text("redirect_uri"),
                row.text("challenge"),
                row.time("expires_at"),
                row.timeOrNone("used_at"));
    }

    private static RefreshToken readRefresh(Row row) throws SQLException {
        return new RefreshToken(
                SecretHash.stored(row.bytes("hash")),
                row.text("grant_id"),
                row.text("client_id"),
                row.time("issued_at"),
                row.time("expires_at"),
                row.timeOrNone("used_at"));
    }
}
