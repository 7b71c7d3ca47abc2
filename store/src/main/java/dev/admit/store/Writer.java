package dev.admit.store;

import dev.admit.core.change.Change;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.ArrayBlockingQueue;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import org.jspecify.annotations.Nullable;

/**
 * The only thread that writes. All work that waits when it is free becomes one SQLite transaction, with a savepoint
 * around each piece, so that one fsync pays for many; nobody gets an answer before that fsync.
 */
final class Writer implements AutoCloseable {
    private static final int MOST_TOGETHER = 256;

    /** A piece of work on the writing connection. */
    interface Work<T> {
        T on(Connection connection) throws SQLException;
    }

    private static final class Waiting<T> {
        final Work<T> work;
        final CompletableFuture<T> done = new CompletableFuture<>();
        private @Nullable T result;
        private @Nullable Throwable failure;

        Waiting(Work<T> work) {
            this.work = work;
        }

        void runOn(Connection connection) throws SQLException {
            run(connection, "SAVEPOINT piece");
            try {
                result = work.on(connection);
                if (result instanceof Change<?> change && !(change instanceof Change.Made<?>))
                    run(connection, "ROLLBACK TO piece"); // refused halfway: all of it or nothing
            } catch (RuntimeException | Error | SQLException cause) {
                failure = cause;
                takeBack(connection, cause);
            }
            run(connection, "RELEASE piece");
        }

        /**
         * On a full disk SQLite takes the whole transaction back by itself; then there is no savepoint, and the first
         * cause is what to tell.
         */
        private static void takeBack(Connection connection, Throwable cause) throws SQLException {
            try {
                run(connection, "ROLLBACK TO piece");
            } catch (SQLException noneLeft) {
                throw new SQLException(rootOf(cause).getMessage(), cause);
            }
        }

        private static Throwable rootOf(Throwable cause) {
            Throwable root = cause;
            while (root.getCause() != null) root = root.getCause();
            return root;
        }

        @SuppressWarnings("NullAway") // work may come to nothing
        void settle() {
            if (failure == null) done.complete(result);
            else done.completeExceptionally(failure);
        }
    }

    @SuppressWarnings("NullAway") // it has no result
    private static final Waiting<Void> STOP = new Waiting<>(connection -> null);

    private final BlockingQueue<Waiting<?>> waiting = new ArrayBlockingQueue<>(10_000);
    private final Connection connection;
    private final Thread thread;
    private volatile boolean stopped;

    Writer(Connection connection) throws SQLException {
        this.connection = connection;
        this.thread = Thread.ofPlatform().name("writer").start(this::writeUntilStopped);
    }

    /** Runs the work alone, and returns once it is on disk. Throws what the work threw. */
    <T> T commit(Work<T> work) {
        if (stopped) throw new StoreFault("writing", new SQLException("the database is closed"));
        Waiting<T> mine = new Waiting<>(work);
        try {
            waiting.put(mine);
            return mine.done.join();
        } catch (InterruptedException interrupted) {
            Thread.currentThread().interrupt();
            throw new StoreFault("waiting for the writer", interrupted);
        } catch (CompletionException failed) {
            switch (failed.getCause()) {
                case null -> throw new StoreFault("writing", failed);
                case RuntimeException fault -> throw fault;
                case Error fault -> throw fault;
                default -> throw new StoreFault("writing", failed.getCause());
            }
        }
    }

    private void writeUntilStopped() {
        List<Waiting<?>> together = new ArrayList<>();
        boolean running = true;
        while (running) {
            together.clear();
            try {
                together.add(waiting.take());
            } catch (InterruptedException nobodyInterruptsThis) {
                continue;
            }
            waiting.drainTo(together, MOST_TOGETHER - 1);
            running = !together.contains(STOP);
            try {
                commitTogether(together);
            } catch (Throwable last) {
                // Whatever it was, an Error too: without this thread nothing would ever be written again, and nobody
                // told.
                together.forEach(piece -> piece.done.completeExceptionally(new StoreFault("writing", last)));
            }
        }
    }

    private void commitTogether(List<Waiting<?>> together) {
        try {
            run(connection, "BEGIN IMMEDIATE");
            for (Waiting<?> piece : together) piece.runOn(connection);
            run(connection, "COMMIT");
            together.forEach(Waiting::settle);
        } catch (SQLException | RuntimeException | Error cause) {
            // Nothing of the batch is on disk, so nobody in it may hear of a success.
            rollBack();
            StoreFault fault = new StoreFault("committing", cause);
            together.forEach(piece -> piece.done.completeExceptionally(fault));
        }
    }

    /** By hand, not through the driver's own transactions: it loses track of them when SQLite ends one by itself. */
    private static void run(Connection connection, String statement) throws SQLException {
        try (Statement one = connection.createStatement()) {
            one.execute(statement);
        }
    }

    private void rollBack() {
        try {
            run(connection, "ROLLBACK");
        } catch (SQLException alreadyRolledBack) {
            // SQLite rolls back by itself on a full disk or an I/O error
        }
    }

    @Override
    public void close() {
        stopped = true;
        waiting.add(STOP);
        try {
            thread.join();
            connection.close();
        } catch (InterruptedException interrupted) {
            Thread.currentThread().interrupt();
        } catch (SQLException cause) {
            throw new StoreFault("closing", cause);
        }
    }
}
