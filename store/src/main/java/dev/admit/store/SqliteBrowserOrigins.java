package dev.admit.store;

import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Supplier;

/** Reads the origins of browser clients that are switched on, by the id of their issuer. */
public final class SqliteBrowserOrigins implements Supplier<Map<String, Set<String>>> {
    private static final String ALL =
            "SELECT issuer_id, origins FROM client WHERE kind = 'browser' AND enabled = 1 AND origins <> ''";

    private final Database database;

    public SqliteBrowserOrigins(Database database) {
        this.database = database;
    }

    private record Found(String issuerId, List<String> origins) {}

    @Override
    public Map<String, Set<String>> get() {
        Map<String, Set<String>> all = new HashMap<>();
        database.list(ALL, row -> new Found(row.text("issuer_id"), row.lines("origins")))
                .forEach(it -> all.computeIfAbsent(it.issuerId(), fresh -> new HashSet<>())
                        .addAll(it.origins()));
        return Map.copyOf(all);
    }
}
