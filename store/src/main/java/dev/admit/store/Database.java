package dev.admit.store;

import com.zaxxer.hikari.HikariConfig;
import com.zaxxer.hikari.HikariDataSource;
import dev.admit.core.change.Transactions;
import java.net.URI;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Function;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;
import org.sqlite.SQLiteConfig;
import org.sqlite.SQLiteConnection;
import org.sqlite.SQLiteDataSource;

/**
 * The one SQLite file: a single writer that commits waiting work together, many readers. A statement runs on the
 * connection of the transaction it is in, else on a reader's.
 */
public final class Database implements Transactions, AutoCloseable {
    private static final int READERS = 8;

    private final ThreadLocal<Connection> inTransaction = new ThreadLocal<>();
    private final Map<Connection, Statements> prepared = new ConcurrentHashMap<>();
    private final HikariDataSource readers;
    private final Writer writer;

    private Database(HikariDataSource readers, Writer writer) {
        this.readers = readers;
        this.writer = writer;
    }

    /**
     * Opens the file, making it when it is not there, and brings its schema up to date.
     *
     * @throws CannotOpen when it was made by a newer version, is damaged, or cannot be written
     */
    public static Database open(Path file) {
        SQLiteDataSource writing = source(file);
        Migrations.bringUpToDate(writing, file);
        HikariConfig pool = new HikariConfig();
        pool.setDataSource(source(file));
        pool.setMaximumPoolSize(READERS);
        pool.setMinimumIdle(1);
        pool.setIdleTimeout(0); // a connection stays as long as the pool, with the statements prepared on it
        pool.setMaxLifetime(0);
        pool.setPoolName("readers");
        pool.setConnectionInitSql("PRAGMA query_only = ON"); // only the writer writes
        try {
            return new Database(new HikariDataSource(pool), new Writer(writing.getConnection()));
        } catch (SQLException cause) {
            throw new CannotOpen("The database " + file + " cannot be opened: " + cause.getMessage(), cause);
        }
    }

    private static SQLiteDataSource source(Path file) {
        SQLiteConfig config = new SQLiteConfig();
        config.setJournalMode(SQLiteConfig.JournalMode.WAL);
        config.setSynchronous(SQLiteConfig.SynchronousMode.FULL);
        config.enforceForeignKeys(true);
        config.setBusyTimeout(10_000);
        SQLiteDataSource source = new SQLiteDataSource(config);
        source.setUrl("jdbc:sqlite:" + file);
        return source;
    }

    @Override
    public <T> T inOne(Supplier<T> work) {
        if (inTransaction.get() != null) return work.get(); // part of a larger one
        return writer.commit(connection -> on(connection, work));
    }

    /** Runs several readings on one state of the database. */
    public <T> T atOneMoment(Supplier<T> reading) {
        if (inTransaction.get() != null) return reading.get();
        try (Connection connection = readers.getConnection()) {
            connection.setAutoCommit(false);
            try {
                return on(connection, reading);
            } finally {
                connection.rollback();
                connection.setAutoCommit(true);
            }
        } catch (SQLException cause) {
            throw new StoreFault("reading", cause);
        }
    }

    private <T> T on(Connection connection, Supplier<T> work) {
        inTransaction.set(connection);
        try {
            return work.get();
        } finally {
            inTransaction.remove();
        }
    }

    <T> List<T> list(String sql, Row.Reader<T> reader, @Nullable Object... values) {
        return run(sql, values, statement -> {
            List<T> all = new ArrayList<>();
            try (ResultSet result = statement.executeQuery()) {
                Row row = new Row(result);
                while (result.next()) all.add(reader.read(row));
            }
            return all;
        });
    }

    <T> Optional<T> one(String sql, Row.Reader<T> reader, @Nullable Object... values) {
        return list(sql, reader, values).stream().findFirst();
    }

    /**
     * Changes rows, in the transaction that is open; in one of its own when none is.
     *
     * @return how many
     */
    int update(String sql, @Nullable Object... values) {
        if (inTransaction.get() == null) return inOne(() -> update(sql, values));
        return run(sql, values, PreparedStatement::executeUpdate);
    }

    /** Runs one statement for each of many things, prepared once. */
    @SuppressWarnings("NullAway") // nobody asks for what it comes to
    <T> void updateEach(String sql, List<T> things, Function<T, @Nullable Object[]> values) {
        inOne(() -> {
            try {
                return statementsOf(inTransaction.get()).with(sql, statement -> {
                    for (T thing : things) {
                        bind(statement, values.apply(thing));
                        statement.executeUpdate();
                    }
                    return null;
                });
            } catch (SQLException cause) {
                throw new StoreFault("running a statement", cause);
            }
        });
    }

    private <T> T run(String sql, @Nullable Object[] values, Statements.Use<T> running) {
        Connection open = inTransaction.get();
        try {
            if (open != null) return run(open, sql, values, running);
            try (Connection reader = readers.getConnection()) {
                return run(reader, sql, values, running);
            }
        } catch (SQLException cause) {
            throw new StoreFault("running a statement", cause);
        }
    }

    private <T> T run(Connection connection, String sql, @Nullable Object[] values, Statements.Use<T> running)
            throws SQLException {
        return statementsOf(connection).with(sql, statement -> {
            bind(statement, values);
            return running.of(statement);
        });
    }

    /** The pool hands out a new cover each time; the connection beneath stays. */
    private Statements statementsOf(Connection covered) throws SQLException {
        return prepared.computeIfAbsent(covered.unwrap(SQLiteConnection.class), Statements::new);
    }

    private static void bind(PreparedStatement statement, @Nullable Object[] values) throws SQLException {
        for (int i = 0; i < values.length; i++) bind(statement, i + 1, values[i]);
    }

    private static void bind(PreparedStatement statement, int at, @Nullable Object value) throws SQLException {
        switch (value) {
            case null -> statement.setObject(at, null);
            case Optional<?> maybe -> bind(statement, at, maybe.orElse(null));
            case String text -> statement.setString(at, text);
            case Long number -> statement.setLong(at, number);
            case Integer number -> statement.setInt(at, number);
            case Boolean flag -> statement.setInt(at, flag ? 1 : 0);
            case byte[] bytes -> statement.setBytes(at, bytes);
            case Instant time -> statement.setLong(at, time.toEpochMilli());
            case Duration length -> statement.setLong(at, length.toMillis());
            case URI uri -> statement.setString(at, uri.toString());
            case Enum<?> word -> statement.setString(at, word.toString());
            default -> throw new IllegalArgumentException("no column takes a " + value.getClass());
        }
    }

    /** Finishes the writes that wait, then closes the file. */
    @Override
    public void close() {
        writer.close();
        readers.close();
    }
}
