package dev.admit.store;

import dev.admit.core.key.SigningKeys;
import java.sql.SQLException;
import java.util.List;

/** The table {@code signing_key}. */
public final class SqliteSigningKeys implements SigningKeys {
    private static final String INSERT = "INSERT INTO signing_key (kid, issuer_id, sealed, created_at) VALUES (?, ?, ?, ?)";
    private static final String ALL = "SELECT * FROM signing_key ORDER BY created_at DESC, kid";

    private final Database database;

    public SqliteSigningKeys(Database database) {
        this.database = database;
    }

    @Override public void insert(Kept it) {
        database.update(INSERT, it.kid(), it.issuerId(), it.sealed(), it.createdAt());
    }

    /** Of each issuer, the one that signs first. */
    List<Kept> all() {
        return database.list(ALL, SqliteSigningKeys::read);
    }

    private static Kept read(Row row) throws SQLException {
        return new Kept(row.text("kid"), row.text("issuer_id"), row.bytes("sealed"), row.number("created_at"));
    }
}
