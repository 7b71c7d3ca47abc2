package dev.admit.store;

import dev.admit.core.approval.Approval;
import dev.admit.core.clientauth.KnownClient;
import dev.admit.core.registry.ClientSecret;
import dev.admit.core.registry.SecretHash;
import java.sql.SQLException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * Reads a client with its secrets and approvals: one statement, so that it is of one moment without a transaction, and
 * costs one.
 */
public final class SqliteKnownClients implements KnownClient.Source {
    private static final String READ = """
            SELECT client.*,
              (SELECT json_group_array(json_array(id, label, hex(hash), created_at, expires_at, used_at)) FROM
            client_secret WHERE client_id = client.id) AS secrets,
              (SELECT json_group_array(json_array(id, scope_id, scope_name, status, requested_at, requested_by, \
            decided_at,
            decided_by, expires_at, reason, last_word, version, by_standing))
               FROM (SELECT * FROM approval WHERE client_id = client.id ORDER BY scope_name)) AS approvals
            FROM client WHERE client.id = ?""";
    private static final JsonMapper JSON = new JsonMapper();

    private final Database database;

    public SqliteKnownClients(Database database) {
        this.database = database;
    }

    @Override
    public Optional<KnownClient> read(String clientId) {
        return database.one(READ, SqliteKnownClients::read, clientId);
    }

    private static KnownClient read(Row row) throws SQLException {
        String issuerId = row.text("issuer_id");
        String clientId = row.text("id");
        List<ClientSecret> secrets = new ArrayList<>(2);
        for (JsonNode it : JSON.readTree(row.text("secrets"))) {
            secrets.add(new ClientSecret(
                    it.get(0).asString(),
                    clientId,
                    it.get(1).asString(),
                    SecretHash.stored(HexFormat.of().parseHex(it.get(2).asString())),
                    time(it.get(3)).orElseThrow(),
                    time(it.get(4)),
                    time(it.get(5))));
        }
        secrets.sort(java.util.Comparator.comparing(ClientSecret::createdAt).thenComparing(ClientSecret::id));
        List<Approval> approvals = new ArrayList<>(4);
        for (JsonNode it : JSON.readTree(row.text("approvals"))) {
            Approval.Status status =
                    Approval.Status.valueOf(it.get(3).asString().toUpperCase(Locale.ROOT));
            approvals.add(new Approval(
                    it.get(0).asString(),
                    issuerId,
                    clientId,
                    it.get(1).asString(),
                    it.get(2).asString(),
                    status,
                    time(it.get(4)).orElseThrow(),
                    it.get(5).asString(),
                    time(it.get(6)),
                    Optional.ofNullable(it.get(7).asString(null)),
                    time(it.get(8)),
                    it.get(9).asString(),
                    it.get(10).asInt() != 0,
                    it.get(12).asInt() != 0,
                    it.get(11).asLong()));
        }
        return new KnownClient(SqliteClients.read(row), List.copyOf(secrets), List.copyOf(approvals));
    }

    private static Optional<Instant> time(JsonNode millis) {
        return millis.isNull() ? Optional.empty() : Optional.of(Instant.ofEpochMilli(millis.asLong()));
    }
}
