package dev.admit.store;

import dev.admit.core.change.Page;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Issuers;
import java.net.URI;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;

/** The table {@code issuer}. */
public final class SqliteIssuers implements Issuers {
    private static final String INSERT = "INSERT INTO issuer (id, name, title, url, revision, version, created_at) VALUES (?, ?, ?, ?, ?, ?, ?)";
    private static final String NAMED = "SELECT * FROM issuer WHERE name = ? OR id = ?";
    private static final String LIST = "SELECT * FROM issuer WHERE name > ? ORDER BY name LIMIT ?";
    private static final String ALL = "SELECT * FROM issuer ORDER BY name";
    private static final String NEXT_REVISION = "UPDATE issuer SET revision = revision + 1 WHERE id = ?";
    private static final String REVISION = "SELECT revision FROM issuer WHERE id = ?";

    private final Database database;

    public SqliteIssuers(Database database) {
        this.database = database;
    }

    @Override public void insert(Issuer it) {
        database.update(INSERT, it.id(), it.name(), it.title(), it.url(), it.revision(), it.version(), it.createdAt());
    }

    @Override public Optional<Issuer> named(String nameOrId) {
        return database.one(NAMED, SqliteIssuers::read, nameOrId, nameOrId);
    }

    @Override public Page<Issuer> list(Page.Ask ask) {
        return Page.of(database.list(LIST, SqliteIssuers::read, ask.after().orElse(""), ask.limit() + 1), ask, Issuer::name);
    }

    @Override public long nextRevision(String issuerId) {
        database.update(NEXT_REVISION, issuerId);
        return database.one(REVISION, row -> row.number("revision"), issuerId).orElseThrow();
    }

    List<Issuer> all() {
        return database.list(ALL, SqliteIssuers::read);
    }

    private static Issuer read(Row row) throws SQLException {
        return new Issuer(row.text("id"), row.text("name"), row.text("title"), URI.create(row.text("url")), row.number("revision"),
                row.number("version"), row.time("created_at"));
    }
}
