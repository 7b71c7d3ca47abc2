package dev.admit.store;

import dev.admit.core.configuration.StoredConfiguration;
import dev.admit.core.registry.Scope;
import dev.admit.core.registry.SecretHash;
import dev.admit.core.selfregistration.InitialAccessToken;
import dev.admit.core.selfregistration.Limits;
import dev.admit.core.selfregistration.RegistrationPolicy;
import dev.admit.core.selfregistration.SelfRegistration;
import dev.admit.core.selfregistration.SelfRegistrations;
import java.sql.SQLException;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.json.JsonMapper;

/** The tables {@code registration_policy}, {@code initial_access_token} and {@code self_registration}. */
public final class SqliteSelfRegistrations implements SelfRegistrations {
    private static final String POLICY = "SELECT * FROM registration_policy WHERE issuer_id = ?";
    private static final String POLICIES = "SELECT * FROM registration_policy";
    private static final String PUT_POLICY =
            "INSERT OR REPLACE INTO registration_policy (issuer_id, mode, limits, approver, version)"
                    + " VALUES (?, ?, ?, ?, ?)";

    private static final String INSERT_TOKEN = """
            INSERT INTO initial_access_token (id, issuer_id, label, hash, uses, limits, expires_at, made_by, made_at)
            VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)""";
    private static final String TOKENS =
            "SELECT * FROM initial_access_token WHERE issuer_id = ? ORDER BY made_at DESC, id";
    private static final String TOKEN = "SELECT * FROM initial_access_token WHERE issuer_id = ? AND hash = ?";
    /** The WHERE clause picks the winner of a race for the last use. */
    private static final String USE =
            "UPDATE initial_access_token SET uses = uses - 1 WHERE id = ? AND uses > 0 AND expires_at > ?";

    private static final String DELETE_TOKEN = "DELETE FROM initial_access_token WHERE issuer_id = ? AND id = ?";

    private static final String INSERT = """
            INSERT INTO self_registration (client_id, issuer_id, registered_by, limits, more, token, registered_at,
            address) VALUES (?, ?, ?, ?, ?, ?, ?, ?)""";
    private static final String OF = "SELECT * FROM self_registration WHERE client_id = ?";
    private static final String REPLACE =
            "UPDATE self_registration SET more = ?, token = ? WHERE client_id = ? AND token = ?";
    private static final String NEVER_USED = """
             FROM self_registration AS it WHERE
            NOT EXISTS (SELECT 1 FROM personal_approval AS one WHERE one.client_id = it.client_id)
            AND NOT EXISTS (SELECT 1 FROM approval AS one WHERE one.client_id = it.client_id AND one.status = 'granted')
            AND NOT EXISTS (SELECT 1 FROM client_secret AS one WHERE one.client_id = it.client_id
                AND one.used_at IS NOT NULL)""";
    private static final String UNUSED = "SELECT count(*) AS many" + NEVER_USED + " AND it.issuer_id = ?";
    private static final String UNUSED_SINCE = "SELECT client_id" + NEVER_USED + " AND it.registered_at < ? LIMIT 1000";

    private static final JsonMapper JSON = new JsonMapper();
    private static final TypeReference<Map<String, String>> MORE = new TypeReference<>() {};

    private final Database database;

    public SqliteSelfRegistrations(Database database) {
        this.database = database;
    }

    @Override
    public Optional<RegistrationPolicy> policy(String issuerId) {
        return database.one(
                POLICY,
                row -> new RegistrationPolicy(
                        row.text("issuer_id"),
                        row.word("mode", RegistrationPolicy.Mode.class),
                        limits(row),
                        row.word("approver", Scope.Approver.class),
                        row.number("version")),
                issuerId);
    }

    List<StoredConfiguration.Registering> registering() {
        return database.list(
                POLICIES,
                row -> new StoredConfiguration.Registering(
                        row.text("issuer_id"),
                        row.word("mode", RegistrationPolicy.Mode.class) != RegistrationPolicy.Mode.CLOSED,
                        row.word("approver", Scope.Approver.class) == Scope.Approver.ADMINISTRATOR));
    }

    @Override
    public void put(RegistrationPolicy it) {
        database.update(
                PUT_POLICY,
                it.issuerId(),
                it.mode().toString(),
                JSON.writeValueAsString(it.limits()),
                it.approver(),
                it.version());
    }

    private static Limits limits(Row row) throws SQLException {
        return JSON.readValue(row.text("limits"), Limits.class);
    }

    @Override
    public void insert(InitialAccessToken it) {
        database.update(
                INSERT_TOKEN,
                it.id(),
                it.issuerId(),
                it.label(),
                it.hash().bytes(),
                it.uses(),
                JSON.writeValueAsString(it.limits()),
                it.expiresAt(),
                it.madeBy(),
                it.madeAt());
    }

    @Override
    public List<InitialAccessToken> tokensOf(String issuerId) {
        return database.list(TOKENS, SqliteSelfRegistrations::token, issuerId);
    }

    @Override
    public Optional<InitialAccessToken> token(String issuerId, SecretHash hash) {
        return database.one(TOKEN, SqliteSelfRegistrations::token, issuerId, hash.bytes());
    }

    private static InitialAccessToken token(Row row) throws SQLException {
        return new InitialAccessToken(
                row.text("id"),
                row.text("issuer_id"),
                row.text("label"),
                SecretHash.stored(row.bytes("hash")),
                (int) row.number("uses"),
                limits(row),
                row.time("expires_at"),
                row.text("made_by"),
                row.time("made_at"));
    }

    @Override
    public boolean use(String tokenId, Instant now) {
        return database.update(USE, tokenId, now) > 0;
    }

    @Override
    public boolean deleteToken(String issuerId, String tokenId) {
        return database.update(DELETE_TOKEN, issuerId, tokenId) > 0;
    }

    @Override
    public void insert(SelfRegistration it) {
        database.update(
                INSERT,
                it.clientId(),
                it.issuerId(),
                it.by(),
                JSON.writeValueAsString(it.limits()),
                JSON.writeValueAsString(it.more()),
                it.token().bytes(),
                it.registeredAt(),
                it.from());
    }

    @Override
    public Optional<SelfRegistration> of(String clientId) {
        return database.one(
                OF,
                row -> new SelfRegistration(
                        row.text("client_id"),
                        row.text("issuer_id"),
                        row.text("registered_by"),
                        limits(row),
                        JSON.readValue(row.text("more"), MORE),
                        SecretHash.stored(row.bytes("token")),
                        row.time("registered_at"),
                        row.text("address")),
                clientId);
    }

    @Override
    public boolean replace(SelfRegistration changed, SecretHash before) {
        return database.update(
                        REPLACE,
                        JSON.writeValueAsString(changed.more()),
                        changed.token().bytes(),
                        changed.clientId(),
                        before.bytes())
                > 0;
    }

    @Override
    public int unused(String issuerId) {
        return database.one(UNUSED, row -> (int) row.number("many"), issuerId).orElse(0);
    }

    @Override
    public List<String> unusedSince(Instant before) {
        return database.list(UNUSED_SINCE, row -> row.text("client_id"), before);
    }
}
