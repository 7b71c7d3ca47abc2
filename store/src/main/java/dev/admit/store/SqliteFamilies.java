package dev.admit.store;

import dev.admit.core.family.Families;
import dev.admit.core.family.Family;
import dev.admit.core.family.IssuedCode;
import dev.admit.core.family.RefreshToken;
import dev.admit.core.registry.SecretHash;
import java.sql.SQLException;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/** The tables {@code family}, {@code authorization_code} and {@code refresh_token}. */
public final class SqliteFamilies implements Families {
    private static final String INSERT = """
            INSERT INTO family (id, issuer_id, client_id, person_id, session_id, scopes, resources, nonce, auth_time,
            methods, started_at, ends_at, ended_at)
            VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)""";
    private static final String FIND = "SELECT * FROM family WHERE id = ?";
    private static final String OF_PERSON =
            "SELECT * FROM family WHERE person_id = ? AND ended_at IS NULL AND ends_at > ? ORDER BY started_at "
                    + "DESC, id";
    private static final String END = "UPDATE family SET ended_at = ? WHERE id = ? AND ended_at IS NULL";
    private static final String END_OF_PERSON =
            "UPDATE family SET ended_at = ?1 WHERE person_id = ?2 AND ended_at IS NULL AND (?3 IS NULL OR client_id "
                    + "= ?3)";
    private static final String INSERT_CODE = """
            INSERT INTO authorization_code (hash, family_id, client_id, redirect_uri, challenge, expires_at, used_at)
            VALUES (?, ?, ?, ?, ?, ?, ?)""";
    private static final String CODE = "SELECT * FROM authorization_code WHERE hash = ?";
    private static final String CLAIM_CODE =
            "UPDATE authorization_code SET used_at = ? WHERE hash = ? AND used_at IS NULL";
    private static final String INSERT_REFRESH =
            "INSERT INTO refresh_token (hash, family_id, client_id, issued_at, expires_at, used_at) VALUES (?, ?, "
                    + "?, ?, ?, ?)";
    private static final String REFRESH = "SELECT * FROM refresh_token WHERE hash = ?";
    private static final String CLAIM_REFRESH =
            "UPDATE refresh_token SET used_at = ? WHERE hash = ? AND used_at IS NULL";
    // As if used long ago: whoever comes with one of these has an answer that was not for them.
    private static final String SUPERSEDE =
            "UPDATE refresh_token SET used_at = 0 WHERE family_id = ? AND used_at IS NULL";
    // The one that was used first of those that came after is the sign that the answer did arrive.
    private static final String SUCCESSOR_USED =
            "SELECT count(*) AS n FROM refresh_token WHERE family_id = ? AND issued_at >= ? AND used_at > 0";
    private static final String DROP = "DELETE FROM family WHERE ends_at < ?1 OR ended_at < ?1";
    // A used token is looked for again only to tell that it was stolen; after its own end nobody can use it anyway.
    private static final String DROP_REFRESH = "DELETE FROM refresh_token WHERE expires_at < ?";

    private final Database database;

    public SqliteFamilies(Database database) {
        this.database = database;
    }

    @Override
    public void insert(Family it) {
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
    public Optional<Family> find(String familyId) {
        return database.one(FIND, SqliteFamilies::read, familyId);
    }

    @Override
    public List<Family> ofPerson(String personId, Instant now) {
        return database.list(OF_PERSON, SqliteFamilies::read, personId, now);
    }

    @Override
    public void end(String familyId, Instant now) {
        database.update(END, now, familyId);
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
                it.familyId(),
                it.clientId(),
                it.redirectUri(),
                it.challenge(),
                it.expiresAt(),
                it.usedAt());
    }

    @Override
    public Optional<IssuedCode> code(SecretHash hash) {
        return database.one(CODE, SqliteFamilies::readCode, hash.bytes());
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
                it.familyId(),
                it.clientId(),
                it.issuedAt(),
                it.expiresAt(),
                it.usedAt());
    }

    @Override
    public Optional<RefreshToken> refreshToken(SecretHash hash) {
        return database.one(REFRESH, SqliteFamilies::readRefresh, hash.bytes());
    }

    @Override
    public boolean claimRefreshToken(SecretHash hash, Instant now) {
        return database.update(CLAIM_REFRESH, now, hash.bytes()) == 1;
    }

    @Override
    public int supersede(String familyId) {
        return database.update(SUPERSEDE, familyId);
    }

    @Override
    public boolean isSuccessorUsed(String familyId, Instant since) {
        return database.one(SUCCESSOR_USED, row -> row.number("n") > 0, familyId, since)
                .orElse(false);
    }

    @Override
    public int drop(Instant before) {
        database.update(DROP_REFRESH, before);
        return database.update(DROP, before);
    }

    private static Family read(Row row) throws SQLException {
        return new Family(
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
                row.text("family_id"),
                row.text("client_id"),
                row.text("redirect_uri"),
                row.text("challenge"),
                row.time("expires_at"),
                row.timeOrNone("used_at"));
    }

    private static RefreshToken readRefresh(Row row) throws SQLException {
        return new RefreshToken(
                SecretHash.stored(row.bytes("hash")),
                row.text("family_id"),
                row.text("client_id"),
                row.time("issued_at"),
                row.time("expires_at"),
                row.timeOrNone("used_at"));
    }
}
