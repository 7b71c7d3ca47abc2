package dev.admit.core.openapi;

import java.time.Instant;
import java.util.Optional;

/** The document that each API came with. */
public interface OpenApiDocuments {
    /**
     * @param document JSON
     * @param operations how many it has
     */
    record Stored(String apiId, String document, String title, String version, int operations, Instant importedAt) {
        @Override
        public String toString() {
            return "Stored[" + apiId + " " + title + " " + version + "]";
        }
    }

    Optional<Stored> of(String apiId);

    /** In the place of the one before. */
    void put(Stored document);

    /** @return whether there was one */
    boolean remove(String apiId);
}
