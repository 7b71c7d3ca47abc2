package dev.admit.store;

import dev.admit.core.openapi.OpenApiDocuments;
import java.sql.SQLException;
import java.util.Optional;

/** The table {@code api_openapi}. */
public final class SqliteOpenApiDocuments implements OpenApiDocuments {
    private static final String OF = "SELECT * FROM api_openapi WHERE api_id = ?";
    private static final String SUMMARY =
            "SELECT title, version, operations, imported_at FROM api_openapi WHERE api_id = ?";
    private static final String PUT =
            "INSERT OR REPLACE INTO api_openapi (api_id, document, title, version, operations, imported_at) "
                    + "VALUES (?, ?, ?, ?, ?, ?)";
    private static final String REMOVE = "DELETE FROM api_openapi WHERE api_id = ?";

    private final Database database;

    public SqliteOpenApiDocuments(Database database) {
        this.database = database;
    }

    @Override
    public Optional<Stored> of(String apiId) {
        return database.one(OF, row -> new Stored(row.text("api_id"), row.text("document"), summary(row)), apiId);
    }

    @Override
    public Optional<Summary> summary(String apiId) {
        return database.one(SUMMARY, SqliteOpenApiDocuments::summary, apiId);
    }

    private static Summary summary(Row row) throws SQLException {
        return new Summary(
                row.text("title"), row.text("version"), (int) row.number("operations"), row.time("imported_at"));
    }

    @Override
    public void put(Stored it, String operations) {
        Summary said = it.summary();
        database.inOne(() -> {
            CatalogueText.put(database, it.apiId(), CatalogueText.Part.OPERATIONS, operations);
            return database.update(
                    PUT, it.apiId(), it.document(), said.title(), said.version(), said.operations(), said.importedAt());
        });
    }

    @Override
    public boolean remove(String apiId) {
        return database.inOne(() -> {
            CatalogueText.put(database, apiId, CatalogueText.Part.OPERATIONS, "");
            return database.update(REMOVE, apiId) > 0;
        });
    }
}
