package dev.admit.store;

import dev.admit.core.change.Page;
import dev.admit.core.key.SigningAlgorithm;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.ClientAuthMethod;
import dev.admit.core.registry.ClientKind;
import dev.admit.core.registry.ClientSecret;
import dev.admit.core.registry.Clients;
import dev.admit.core.registry.Look;
import dev.admit.core.registry.SecretHash;
import java.net.URI;
import java.sql.SQLException;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import tools.jackson.databind.json.JsonMapper;

/** The tables {@code client} and {@code client_secret}. */
public final class SqliteClients implements Clients {
    private static final String INSERT = """
            INSERT INTO client (name, client_name, kind, token_endpoint_auth_method, description, contacts, links, \
            tags, redirects,
            origins, grant_types,
                                openid_scopes, jwks, jwks_uri, token_endpoint_auth_signing_alg, people, \
            may_introspect, enabled,
            version, self_registered, look, id, issuer_id, created_at)
            VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)""";
    private static final String UPDATE = """
            UPDATE client SET name = ?, client_name = ?, kind = ?, token_endpoint_auth_method = ?, description = ?, \
            contacts =
            ?, links = ?, tags = ?,
                              redirects = ?, origins = ?, grant_types = ?, openid_scopes = ?, jwks = ?, jwks_uri =
            ?, token_endpoint_auth_signing_alg = ?,
                              people = ?, may_introspect = ?, enabled = ?, version = ?, self_registered = ?, look = ?
            WHERE id = ?""";
    private static final String DELETE = "DELETE FROM client WHERE id = ?";
    private static final String WITH_ID = "SELECT id FROM client WHERE id = ?";
    private static final String LOOKS_TAKEN =
            "SELECT id FROM client WHERE issuer_id = ? AND look = ? AND NOT self_registered LIMIT 1";
    private static final String NAMED = "SELECT * FROM client WHERE issuer_id = ? AND (name = ? OR id = ?)";
    private static final String FITTING = """
            SELECT * FROM client WHERE issuer_id = ?1
              AND (?2 = '' OR instr(lower(name || char(10) || id || char(10) || client_name || char(10) || \
            description ||
            char(10)
                   || contacts || char(10) || links || char(10) || tags || char(10) || redirects), lower(?2)) > 0)
              AND (?3 IS NULL OR kind = ?3) AND (?4 IS NULL OR instr(char(10) || tags || char(10), char(10) || ?4 ||
            char(10)) > 0)
              AND (?5 IS NULL OR instr(char(10) || contacts || char(10), char(10) || ?5 || char(10)) > 0) AND (?6 IS \
            NULL OR enabled = ?6)
              AND (?7 IS NULL OR id IN (SELECT owner.client_id FROM owner WHERE owner.person_id = ?7))
              AND (?11 IS NULL OR self_registered = ?11)""";
    private static final String BY_NAME = FITTING + " AND name > ?8 ORDER BY name LIMIT ?9";
    /** The cursor is time, then id. */
    private static final String NEWEST =
            FITTING + " AND (created_at < ?8 OR created_at = ?8 AND id > ?10) ORDER BY created_at DESC, id LIMIT ?9";

    private static final String INSERT_SECRET =
            "INSERT INTO client_secret (id, client_id, label, hash, created_at, expires_at, used_at) VALUES (?, ?, "
                    + "?, ?, ?, ?, ?)";
    private static final String UPDATE_SECRET = "UPDATE client_secret SET label = ?, expires_at = ? WHERE id = ?";
    private static final String SECRET_USED = "UPDATE client_secret SET used_at = ? WHERE id = ?";
    private static final String DELETE_SECRET = "DELETE FROM client_secret WHERE id = ?";
    private static final String SECRETS = "SELECT * FROM client_secret WHERE client_id = ? ORDER BY created_at, id";

    private static final JsonMapper JSON = new JsonMapper();

    private final Database database;

    public SqliteClients(Database database) {
        this.database = database;
    }

    @Override
    public void insert(Client it) {
        write(INSERT, it, it.issuerId(), it.createdAt());
    }

    @Override
    public void update(Client it) {
        write(UPDATE, it);
    }

    private void write(String sql, Client it, Object... more) {
        Client.Texts texts = it.texts();
        Object[] values = {
            it.name(),
            texts.clientName(),
            it.kind(),
            it.tokenEndpointAuthMethod(),
            texts.description(),
            joined(texts.contacts()),
            joined(texts.links()),
            joined(texts.tags()),
            joined(it.addresses().redirects()),
            joined(it.addresses().origins()),
            Row.joined(it.grantTypes()),
            joined(it.openidScopes()),
            it.proof().jwks(),
            it.proof().jwksUri(),
            it.proof().algorithm(),
            JSON.writeValueAsString(it.people()),
            it.mayIntrospect(),
            it.enabled(),
            it.version(),
            it.selfRegistered(),
            Look.skeleton(texts.clientName()),
            it.id()
        };
        Object[] all = java.util.Arrays.copyOf(values, values.length + more.length);
        System.arraycopy(more, 0, all, values.length, more.length);
        database.update(sql, all);
    }

    private static String joined(List<?> many) {
        return String.join("\n", many.stream().map(Object::toString).toList());
    }

    @Override
    public void delete(String clientId) {
        database.update(DELETE, clientId);
    }

    @Override
    public boolean isIdTaken(String id) {
        return database.one(WITH_ID, row -> row.text("id"), id).isPresent();
    }

    @Override
    public boolean looksTaken(String issuerId, String clientName) {
        return database.one(LOOKS_TAKEN, row -> row.text("id"), issuerId, Look.skeleton(clientName))
                .isPresent();
    }

    @Override
    public Optional<Client> named(String issuerId, String nameOrId) {
        return database.one(NAMED, SqliteClients::read, issuerId, nameOrId, nameOrId);
    }

    @Override
    public Page<Client> list(String issuerId, Filter it, Page.Ask ask) {
        String after = ask.after().orElse("");
        int most = ask.limit() + 1;
        if (!it.newest()) {
            return Page.of(
                    database.list(
                            BY_NAME,
                            SqliteClients::read,
                            issuerId,
                            it.search(),
                            it.kind(),
                            it.tag(),
                            it.contact(),
                            it.enabled(),
                            it.ownedBy(),
                            after,
                            most,
                            "",
                            it.selfRegistered()),
                    ask,
                    Client::name);
        }
        long before = after.isEmpty() ? Long.MAX_VALUE : time(after);
        return Page.of(
                database.list(
                        NEWEST,
                        SqliteClients::read,
                        issuerId,
                        it.search(),
                        it.kind(),
                        it.tag(),
                        it.contact(),
                        it.enabled(),
                        it.ownedBy(),
                        before,
                        most,
                        after.isEmpty() ? "" : after.substring(after.indexOf(' ') + 1),
                        it.selfRegistered()),
                ask,
                client -> client.createdAt().toEpochMilli() + " " + client.id());
    }

    private static long time(String cursor) {
        try {
            return Long.parseLong(cursor.substring(0, Math.max(0, cursor.indexOf(' '))));
        } catch (NumberFormatException notOurs) {
            throw new Page.UnknownCursor(cursor);
        }
    }

    @Override
    public void insert(ClientSecret it) {
        database.update(
                INSERT_SECRET,
                it.id(),
                it.clientId(),
                it.label(),
                it.hash().bytes(),
                it.createdAt(),
                it.expiresAt(),
                it.usedAt());
    }

    @Override
    public void update(ClientSecret it) {
        database.update(UPDATE_SECRET, it.label(), it.expiresAt(), it.id());
    }

    @Override
    public void used(Map<String, Instant> bySecret) {
        database.updateEach(
                SECRET_USED, List.copyOf(bySecret.entrySet()), it -> new Object[] {it.getValue(), it.getKey()});
    }

    @Override
    public void deleteSecret(String secretId) {
        database.update(DELETE_SECRET, secretId);
    }

    @Override
    public List<ClientSecret> secretsOf(String clientId) {
        return database.list(SECRETS, SqliteClients::readSecret, clientId);
    }

    static Client read(Row row) throws SQLException {
        Client.Texts texts = new Client.Texts(
                row.text("client_name"),
                row.text("description"),
                row.lines("contacts"),
                row.lines("links").stream().map(URI::create).toList(),
                row.lines("tags"));
        Client.Proof proof = new Client.Proof(
                row.word("token_endpoint_auth_method", ClientAuthMethod.class),
                row.textOrNone("jwks"),
                row.uriOrNone("jwks_uri"),
                row.isNull("token_endpoint_auth_signing_alg")
                        ? Optional.empty()
                        : Optional.of(row.word("token_endpoint_auth_signing_alg", SigningAlgorithm.class)));
        return new Client(
                row.text("id"),
                row.text("issuer_id"),
                row.text("name"),
                row.word("kind", ClientKind.class),
                texts,
                proof,
                new Client.Addresses(row.lines("redirects"), row.lines("origins")),
                row.wordsOrNone("grant_types"),
                row.lines("openid_scopes"),
                row.textOrNone("people")
                        .map(text -> JSON.readValue(text, Client.People.class))
                        .orElse(Client.People.USUAL),
                row.flag("may_introspect"),
                row.flag("enabled"),
                row.number("version"),
                row.time("created_at"),
                row.flag("self_registered"));
    }

    private static ClientSecret readSecret(Row row) throws SQLException {
        return new ClientSecret(
                row.text("id"),
                row.text("client_id"),
                row.text("label"),
                SecretHash.stored(row.bytes("hash")),
                row.time("created_at"),
                row.timeOrNone("expires_at"),
                row.timeOrNone("used_at"));
    }
}
