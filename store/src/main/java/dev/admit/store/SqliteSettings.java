package dev.admit.store;

import java.util.Optional;

/** The table {@code setting}: what is decided once for a data folder. */
public final class SqliteSettings {
    private static final String FIND = "SELECT value FROM setting WHERE name = ?";
    private static final String PUT = "INSERT INTO setting (name, value) VALUES (?, ?) ON CONFLICT (name) DO UPDATE SET value = excluded.value";

    private final Database database;

    public SqliteSettings(Database database) {
        this.database = database;
    }

    public Optional<String> find(String name) {
        return database.one(FIND, row -> row.text("value"), name);
    }

    public void put(String name, String value) {
        database.update(PUT, name, value);
    }
}
