package dev.admit.store;

import dev.admit.core.openapi.OpenApiDocuments;
import java.util.Optional;

/** The table {@code api_openapi}. */
public final class SqliteOpenApiDocuments implements OpenApiDocuments {
    private static final String OF = "SELECT * FROM api_openapi WHERE api_id = ?";
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
        return database.one(
                OF,
                row -> new Stored(
                        row.text("api_id"),
                        row.text("document"),
                        row.text("title"),
                        row.text("version"),
                        (int) row.number("operations"),
                        row.time("imported_at")),
                apiId);
    }

    @Override
    public void put(Stored it) {
        database.update(PUT, it.apiId(), it.document(), it.title(), it.version(), it.operations(), it.importedAt());
    }

    @Override
    public boolean remove(String apiId) {
        return database.update(REMOVE, apiId) > 0;
    }
}
