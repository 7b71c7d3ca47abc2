package dev.admit.core.catalogue;

import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * How an API stands in the catalogue.
 *
 * @param people ids of those who find it where the readers are named: an address may go to another person
 * @param description in Markdown
 * @param gettingStarted in Markdown
 * @param changes the newest first
 * @param changedAt empty when nothing was ever said
 */
public record Publication(
        String apiId,
        Readers readers,
        List<String> people,
        String description,
        String gettingStarted,
        List<Note> changes,
        long version,
        Optional<Instant> changedAt) {

    /**
     * What changed about the API.
     *
     * @param date such as 2026-11-30
     * @param text in Markdown
     */
    public record Note(String date, String text) {}

    /** Nothing was said yet, and nobody finds it. */
    public static Publication none(String apiId) {
        return new Publication(apiId, Readers.NONE, List.of(), "", "", List.of(), 0, Optional.empty());
    }

    public boolean isFor(Reader reader) {
        return switch (readers) {
            case NONE -> false;
            case PUBLIC -> !isNobody(reader);
            case SIGNED_IN -> isSignedIn(reader);
            case NAMED ->
                switch (reader) {
                    case Reader.Stranger stranger -> false;
                    case Reader.SignedIn(String id) -> people.contains(id);
                    case Reader.Preview(Readers as) -> as == Readers.NAMED;
                };
        };
    }

    private static boolean isNobody(Reader reader) {
        return reader instanceof Reader.Preview(Readers as) && as == Readers.NONE;
    }

    private static boolean isSignedIn(Reader reader) {
        return switch (reader) {
            case Reader.Stranger stranger -> false;
            case Reader.SignedIn person -> true;
            case Reader.Preview(Readers as) -> as == Readers.SIGNED_IN || as == Readers.NAMED;
        };
    }

    /** The same without its times and numbers: to tell whether anything differs. */
    Publication said() {
        return new Publication(apiId, readers, people, description, gettingStarted, changes, 0, Optional.empty());
    }
}
