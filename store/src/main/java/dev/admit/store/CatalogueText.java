package dev.admit.store;

import java.util.Locale;

/** The table {@code catalogue_text}: what is searched of an API beside its names, in parts. */
final class CatalogueText {
    private static final String REMOVE = "DELETE FROM catalogue_text WHERE api_id = ? AND part = ?";
    private static final String INSERT = "INSERT INTO catalogue_text (api_id, part, text) VALUES (?, ?, ?)";

    private CatalogueText() {}

    enum Part {
        DESCRIPTION,
        OPERATIONS;

        @Override
        public String toString() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    /** @param text empty for none */
    static void put(Database database, String apiId, Part part, String text) {
        database.update(REMOVE, apiId, part.toString());
        if (!text.isEmpty()) database.update(INSERT, apiId, part.toString(), text);
    }
}
