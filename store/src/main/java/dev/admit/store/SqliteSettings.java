package dev.admit.store;

import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;

/** The table {@code setting}: what is decided once for a data folder. */
public final class SqliteSettings {
    private static final String FIND = "SELECT value FROM setting WHERE name = ?";
    private static final String STARTING = "SELECT name, value FROM setting WHERE substr(name, 1, ?) = ?";
    private static final String PUT =
            "INSERT INTO setting (name, value) VALUES (?, ?) ON CONFLICT (name) DO UPDATE SET value = excluded.value";

    private final Database database;

    public SqliteSettings(Database database) {
        this.database = database;
    }

    public Optional<String> find(String name) {
        return database.one(FIND, row -> row.text("value"), name);
    }

    /** By name, those whose name begins so. */
    public Map<String, String> startingWith(String prefix) {
        return database
                .list(STARTING, row -> Map.entry(row.text("name"), row.text("value")), prefix.length(), prefix)
                .stream()
                .collect(Collectors.toMap(Map.Entry::getKey, Map.Entry::getValue));
    }

    public void put(String name, String value) {
        database.update(PUT, name, value);
    }
}
