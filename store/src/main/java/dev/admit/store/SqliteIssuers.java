package dev.admit.store;

import dev.admit.core.change.Page;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.IssuerSettings;
import dev.admit.core.registry.Issuers;
import dev.admit.core.registry.PeopleSettings;
import java.net.URI;
import java.sql.SQLException;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.json.JsonMapper;

/** The table {@code issuer}. */
public final class SqliteIssuers implements Issuers {
    private static final String INSERT = """
            INSERT INTO issuer (id, name, title, description, url, domains, key_rotation, secret_lifetime,
            max_secret_lifetime, non_expiring_secrets,
                                loopback_redirects, grant_types, people, revision, version, created_at)
            VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)""";
    private static final String UPDATE = """
            UPDATE issuer SET title = ?, description = ?, domains = ?, key_rotation = ?, secret_lifetime = ?,
            max_secret_lifetime = ?,
                              non_expiring_secrets = ?, loopback_redirects = ?, grant_types = ?, people = ?, version
            = ? WHERE id = ?""";
    private static final String NAMED = "SELECT * FROM issuer WHERE name = ? OR id = ?";
    private static final String LIST = "SELECT * FROM issuer WHERE name > ? ORDER BY name LIMIT ?";
    private static final String ALL = "SELECT * FROM issuer";
    private static final String NEXT_REVISION = "UPDATE issuer SET revision = revision + 1 WHERE id = ?";
    private static final String REVISION = "SELECT revision FROM issuer WHERE id = ?";
    private static final String HOLDS = """
            SELECT (SELECT count(*) FROM api WHERE issuer_id = ?1) AS apis, (SELECT count(*) FROM client WHERE
            issuer_id = ?1) AS clients,
                   (SELECT count(*) FROM approval WHERE issuer_id = ?1 AND status = 'granted') AS approvals,
                   (SELECT count(*) FROM route WHERE issuer_id = ?1) AS routes""";
    /**
     * In this order, because later tables are referred to by earlier ones; what hangs on a client or an API goes with
     * it.
     */
    private static final List<String> DELETE = List.of(
            "DELETE FROM route WHERE issuer_id = ?",
            "DELETE FROM approval WHERE issuer_id = ?",
            "DELETE FROM client WHERE issuer_id = ?",
            "DELETE FROM scope WHERE issuer_id = ?",
            "DELETE FROM api WHERE issuer_id = ?",
            "DELETE FROM signing_key WHERE issuer_id = ?",
            "DELETE FROM issuer WHERE id = ?");

    private static final JsonMapper JSON = new JsonMapper();

    private final Database database;

    public SqliteIssuers(Database database) {
        this.database = database;
    }

    @Override
    public void insert(Issuer it) {
        IssuerSettings rules = it.settings();
        database.update(
                INSERT,
                it.id(),
                it.name(),
                it.title(),
                it.description(),
                it.url(),
                String.join(" ", rules.domains()),
                rules.keyRotation(),
                rules.secretLifetime(),
                rules.maxSecretLifetime(),
                rules.nonExpiringSecrets(),
                rules.loopbackRedirects(),
                Row.joined(rules.grantTypes()),
                JSON.writeValueAsString(StoredPeople.of(rules.people())),
                it.revision(),
                it.version(),
                it.createdAt());
    }

    @Override
    public void update(Issuer it) {
        IssuerSettings rules = it.settings();
        database.update(
                UPDATE,
                it.title(),
                it.description(),
                String.join(" ", rules.domains()),
                rules.keyRotation(),
                rules.secretLifetime(),
                rules.maxSecretLifetime(),
                rules.nonExpiringSecrets(),
                rules.loopbackRedirects(),
                Row.joined(rules.grantTypes()),
                JSON.writeValueAsString(StoredPeople.of(rules.people())),
                it.version(),
                it.id());
    }

    @Override
    public void delete(String issuerId) {
        database.inOne(() -> {
            for (String statement : DELETE) database.update(statement, issuerId);
            return null;
        });
    }

    @Override
    public Holds holds(String issuerId) {
        return database.one(
                        HOLDS,
                        row -> new Holds(
                                row.number("apis"),
                                row.number("clients"),
                                row.number("approvals"),
                                row.number("routes")),
                        issuerId)
                .orElseThrow();
    }

    @Override
    public Optional<Issuer> named(String nameOrId) {
        return database.one(NAMED, SqliteIssuers::read, nameOrId, nameOrId);
    }

    @Override
    public Page<Issuer> list(Page.Ask ask) {
        return Page.of(
                database.list(LIST, SqliteIssuers::read, ask.after().orElse(""), ask.limit() + 1), ask, Issuer::name);
    }

    @Override
    public List<Issuer> all() {
        return database.list(ALL, SqliteIssuers::read);
    }

    @Override
    public long nextRevision(String issuerId) {
        database.update(NEXT_REVISION, issuerId);
        return database.one(REVISION, row -> row.number("revision"), issuerId).orElseThrow();
    }

    private static Issuer read(Row row) throws SQLException {
        IssuerSettings rules = new IssuerSettings(
                row.words("domains"),
                row.lengthOrNone("key_rotation"),
                row.length("secret_lifetime"),
                row.length("max_secret_lifetime"),
                row.flag("non_expiring_secrets"),
                row.flag("loopback_redirects"),
                row.wordsOrNone("grant_types"),
                row.textOrNone("people")
                        .map(text -> JSON.readValue(text, StoredPeople.class).settings())
                        .orElse(PeopleSettings.USUAL));
        return new Issuer(
                row.text("id"),
                row.text("name"),
                row.text("title"),
                row.text("description"),
                URI.create(row.text("url")),
                rules,
                row.number("revision"),
                row.number("version"),
                row.time("created_at"));
    }

    /** The column {@code people}: what was kept before there was a member lacks it, and is as usual there. */
    private record StoredPeople(
            @Nullable Boolean listed,
            boolean signUp,
            boolean secondFactor,
            Duration sessionIdleTimeout,
            Duration maxSessionAge,
            StoredLook look) {
        record StoredLook(
                @Nullable String logo,
                @Nullable String accent,
                @Nullable String welcome,
                @Nullable String styleSheet) {}

        static StoredPeople of(PeopleSettings it) {
            PeopleSettings.Look look = it.look();
            return new StoredPeople(
                    it.listed(),
                    it.signUp(),
                    it.secondFactor(),
                    it.sessionIdleTimeout(),
                    it.maxSessionAge(),
                    new StoredLook(
                            look.logo().orElse(null),
                            look.accent().orElse(null),
                            look.welcome().orElse(null),
                            look.styleSheet().orElse(null)));
        }

        PeopleSettings settings() {
            return new PeopleSettings(
                    Boolean.TRUE.equals(listed),
                    signUp,
                    secondFactor,
                    sessionIdleTimeout,
                    maxSessionAge,
                    new PeopleSettings.Look(
                            Optional.ofNullable(look.logo()),
                            Optional.ofNullable(look.accent()),
                            Optional.ofNullable(look.welcome()),
                            Optional.ofNullable(look.styleSheet())));
        }
    }
}
