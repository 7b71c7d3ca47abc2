package dev.admit.store;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.util.LinkedHashMap;
import java.util.Map;

/**
 * The statements of one connection, prepared once: SQLite's reading of a statement costs more than most of them do. One
 * that is in use is removed, so that a reader of rows may run the same again. Used by one thread at a time, as its
 * connection is.
 */
final class Statements {
    private static final int MOST = 200;

    private final Connection connection;
    private final Map<String, PreparedStatement> idle = new LinkedHashMap<>(64, 0.75f, true);

    Statements(Connection connection) {
        this.connection = connection;
    }

    /** What is done with a statement while it is removed. */
    interface Use<T> {
        T of(PreparedStatement statement) throws SQLException;
    }

    <T> T with(String sql, Use<T> use) throws SQLException {
        PreparedStatement kept = idle.remove(sql);
        PreparedStatement statement = kept == null ? connection.prepareStatement(sql) : kept;
        boolean good = false;
        try {
            T result = use.of(statement);
            statement.clearParameters(); // they may be large, or secret
            good = true;
            return result;
        } finally {
            if (good) putBack(sql, statement);
            else statement.close();
        }
    }

    private void putBack(String sql, PreparedStatement statement) throws SQLException {
        PreparedStatement other = idle.put(sql, statement);
        if (other != null) other.close();
        if (idle.size() > MOST) {
            String eldest = idle.keySet().iterator().next();
            idle.remove(eldest).close();
        }
    }
}
