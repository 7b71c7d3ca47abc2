package dev.admit.store;

import dev.admit.core.key.SigningAlgorithm;
import dev.admit.core.trust.TrustedIssuer;
import dev.admit.core.trust.TrustedIssuers;
import java.net.URI;
import java.sql.SQLException;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.json.JsonMapper;

/** The table {@code trusted_issuer}. */
public final class SqliteTrustedIssuers implements TrustedIssuers {
    private static final String INSERT =
            "INSERT INTO trusted_issuer (name, url, settings, version, created_at, id, issuer_id) VALUES (?, ?, ?, ?, "
                    + "?, ?, ?)";
    private static final String UPDATE = """
            UPDATE trusted_issuer SET url = ?1, settings = ?2, version = ?3, found_keys = CASE WHEN ?4 THEN \
            found_keys END,
            found_at = CASE WHEN ?4 THEN found_at END WHERE id = ?5""";
    private static final String DELETE = "DELETE FROM trusted_issuer WHERE id = ?";
    private static final String NAMED = "SELECT * FROM trusted_issuer WHERE issuer_id = ?1 AND (name = ?2 OR id = ?2)";
    private static final String OF = "SELECT * FROM trusted_issuer WHERE issuer_id = ? ORDER BY name";
    private static final String ALL = "SELECT * FROM trusted_issuer ORDER BY name";
    private static final String KEEP = "UPDATE trusted_issuer SET found_keys = ?, found_at = ? WHERE id = ?";
    private static final String FOUND =
            "SELECT found_keys, found_at FROM trusted_issuer WHERE id = ? AND found_keys IS NOT NULL";
    private static final JsonMapper JSON = new JsonMapper();

    private final Database database;

    public SqliteTrustedIssuers(Database database) {
        this.database = database;
    }

    /** What is kept as one text. Of the three places of keys one is there. */
    private record Settings(
            @Nullable URI metadata,
            @Nullable URI jwksUri,
            @Nullable String jwks,
            List<SigningAlgorithm> algorithms,
            List<String> types,
            Optional<String> audience,
            TrustedIssuer.Claims claims,
            Map<String, String> scopes,
            Map<String, String> clients) {
        static Settings of(TrustedIssuer it) {
            return new Settings(
                    it.keys() instanceof TrustedIssuer.Keys.InMetadata(URI at) ? at : null,
                    it.keys() instanceof TrustedIssuer.Keys.At(URI at) ? at : null,
                    it.keys() instanceof TrustedIssuer.Keys.Pasted(String text) ? text : null,
                    it.algorithms(),
                    it.types(),
                    it.audience(),
                    it.claims(),
                    it.scopes(),
                    it.clients());
        }

        TrustedIssuer.Keys keys() {
            if (jwks != null) return new TrustedIssuer.Keys.Pasted(jwks);
            return jwksUri != null
                    ? new TrustedIssuer.Keys.At(jwksUri)
                    : new TrustedIssuer.Keys.InMetadata(Objects.requireNonNull(metadata));
        }
    }

    @Override
    public void insert(TrustedIssuer it) {
        database.update(
                INSERT,
                it.name(),
                it.url(),
                JSON.writeValueAsString(Settings.of(it)),
                it.version(),
                it.createdAt(),
                it.id(),
                it.issuerId());
    }

    @Override
    public void update(TrustedIssuer it, boolean found) {
        database.update(UPDATE, it.url(), JSON.writeValueAsString(Settings.of(it)), it.version(), found, it.id());
    }

    @Override
    public void delete(String id) {
        database.update(DELETE, id);
    }

    @Override
    public Optional<TrustedIssuer> named(String issuerId, String name) {
        return database.one(NAMED, SqliteTrustedIssuers::read, issuerId, name);
    }

    @Override
    public List<TrustedIssuer> of(String issuerId) {
        return database.list(OF, SqliteTrustedIssuers::read, issuerId);
    }

    List<TrustedIssuer> all() {
        return database.list(ALL, SqliteTrustedIssuers::read);
    }

    @Override
    public void keep(String id, Found found) {
        database.update(KEEP, found.jwks(), found.at(), id);
    }

    @Override
    public Optional<Found> found(String id) {
        return database.one(FOUND, row -> new Found(row.text("found_keys"), row.time("found_at")), id);
    }

    private static TrustedIssuer read(Row row) throws SQLException {
        Settings settings = JSON.readValue(row.text("settings"), Settings.class);
        return new TrustedIssuer(
                row.text("id"),
                row.text("issuer_id"),
                row.text("name"),
                row.text("url"),
                settings.keys(),
                settings.algorithms(),
                settings.types(),
                settings.audience(),
                settings.claims(),
                settings.scopes(),
                settings.clients(),
                row.number("version"),
                row.time("created_at"));
    }
}
