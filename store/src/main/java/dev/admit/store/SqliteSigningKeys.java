package dev.admit.store;

import dev.admit.core.key.SigningKeys;
import java.sql.SQLException;
import java.util.List;

/** The table {@code signing_key}. */
public final class SqliteSigningKeys implements SigningKeys {
    private static final String INSERT = """
            INSERT INTO signing_key (kid, issuer_id, purpose, algorithm, sealed, created_at, signs_from, imported,
            removed_at)
            VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)""";
    private static final String UPDATE = "UPDATE signing_key SET signs_from = ?, removed_at = ? WHERE kid = ?";
    private static final String OF_ISSUER =
            "SELECT * FROM signing_key WHERE issuer_id = ? ORDER BY signs_from DESC, kid";
    private static final String ALL = "SELECT * FROM signing_key";

    private final Database database;

    public SqliteSigningKeys(Database database) {
        this.database = database;
    }

    @Override
    public void insert(Stored it) {
        database.update(
                INSERT,
                it.kid(),
                it.issuerId(),
                it.purpose(),
                it.algorithm(),
                it.sealed(),
                it.createdAt(),
                it.signsFrom(),
                it.imported(),
                it.removedAt());
    }

    @Override
    public void update(Stored it) {
        database.update(UPDATE, it.signsFrom(), it.removedAt(), it.kid());
    }

    @Override
    public List<Stored> of(String issuerId) {
        return database.list(OF_ISSUER, SqliteSigningKeys::read, issuerId);
    }

    List<Stored> all() {
        return database.list(ALL, SqliteSigningKeys::read);
    }

    private static Stored read(Row row) throws SQLException {
        return new Stored(
                row.text("kid"),
                row.text("issuer_id"),
                row.word("purpose", Purpose.class),
                row.text("algorithm"),
                row.bytes("sealed"),
                row.time("created_at"),
                row.time("signs_from"),
                row.flag("imported"),
                row.timeOrNone("removed_at"));
    }
}
