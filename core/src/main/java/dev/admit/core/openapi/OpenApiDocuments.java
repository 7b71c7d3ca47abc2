package dev.admit.core.openapi;

import java.time.Instant;
import java.util.Optional;

/** The document that each API has. */
public interface OpenApiDocuments {
    /** @param document JSON */
    record Stored(String apiId, String document, Summary summary) {
        @Override
        public String toString() {
            return "Stored[" + apiId + " " + summary.title() + " " + summary.version() + "]";
        }
    }

    /**
     * What a list says of a document.
     *
     * @param operations how many it has
     */
    record Summary(String title, String version, int operations, Instant importedAt) {}

    Optional<Stored> of(String apiId);

    /** The same without the document, which may be long. */
    Optional<Summary> summary(String apiId);

    /**
     * In the place of the one before.
     *
     * @param operations one a line, with what each is for: what a search finds
     */
    void put(Stored document, String operations);

    /** @return whether there was one */
    boolean remove(String apiId);
}
