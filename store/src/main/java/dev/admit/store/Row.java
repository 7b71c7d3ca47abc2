package dev.admit.store;

import java.net.URI;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** One row of an answer, read by column name into the types of the core. */
final class Row {
    private final ResultSet result;

    Row(ResultSet result) {
        this.result = result;
    }

    String text(String column) throws SQLException {
        return result.getString(column);
    }

    Optional<String> textOrNone(String column) throws SQLException {
        return Optional.ofNullable(result.getString(column));
    }

    Optional<URI> uriOrNone(String column) throws SQLException {
        return textOrNone(column).map(URI::create);
    }

    long number(String column) throws SQLException {
        return result.getLong(column);
    }

    boolean isNull(String column) throws SQLException {
        return result.getObject(column) == null;
    }

    boolean flag(String column) throws SQLException {
        return result.getInt(column) != 0;
    }

    byte[] bytes(String column) throws SQLException {
        return result.getBytes(column);
    }

    Instant time(String column) throws SQLException {
        return Instant.ofEpochMilli(result.getLong(column));
    }

    Optional<Instant> timeOrNone(String column) throws SQLException {
        return isNull(column) ? Optional.empty() : Optional.of(time(column));
    }

    /** Words that were joined by spaces. */
    List<String> words(String column) throws SQLException {
        String joined = text(column);
        return joined.isEmpty() ? List.of() : List.of(joined.split(" "));
    }

    /** What stands in a column for a list that is there and empty; an empty column means that there is none. */
    private static final String NOTHING = "-";

    static String joined(Optional<List<String>> words) {
        return words.map(some -> some.isEmpty() ? NOTHING : String.join(" ", some))
                .orElse("");
    }

    /** What {@link #joined} gave. */
    Optional<List<String>> wordsOrNone(String column) throws SQLException {
        String joined = text(column);
        if (joined.isEmpty()) return Optional.empty();
        return Optional.of(joined.equals(NOTHING) ? List.of() : List.of(joined.split("\\s")));
    }

    /** Texts that were joined by line breaks. */
    List<String> lines(String column) throws SQLException {
        String joined = text(column);
        return joined.isEmpty() ? List.of() : List.of(joined.split("\n"));
    }

    Duration length(String column) throws SQLException {
        return Duration.ofMillis(number(column));
    }

    Optional<Duration> lengthOrNone(String column) throws SQLException {
        return isNull(column) ? Optional.empty() : Optional.of(length(column));
    }

    <E extends Enum<E>> E word(String column, Class<E> type) throws SQLException {
        return Enum.valueOf(type, text(column).toUpperCase(Locale.ROOT).replace('-', '_'));
    }

    /** Makes something of a row. */
    interface Reader<T> {
        T read(Row row) throws SQLException;
    }
}
