package dev.admit.store;

import dev.admit.core.key.MasterKey;
import dev.admit.core.key.SigningFault;
import dev.admit.core.token.Lifetime;
import dev.admit.core.token.TokenIds;
import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.PosixFilePermissions;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;

/**
 * Copies of the database. One is made while the service goes on, and holds the state of one moment; the master key is
 * not in it, as it is not in the database. One is put back while the service is stopped.
 */
public final class Backup {
    private Backup() {}

    /**
     * Writes the state of this moment to a file that is not there yet.
     *
     * @throws StoreFault when it cannot, as on a full disk
     */
    public static void write(Path database, Path to) {
        try (Connection connection = DriverManager.getConnection("jdbc:sqlite:" + database);
                PreparedStatement copy = connection.prepareStatement("VACUUM INTO ?")) {
            copy.setString(1, to.toString());
            copy.execute();
            Files.setPosixFilePermissions(to, PosixFilePermissions.fromString("rw-------"));
        } catch (SQLException | IOException cause) {
            throw new StoreFault("writing a backup", cause);
        }
    }

    /** What is wrong with a database file, as sentences; empty when it is whole. */
    public static List<String> faults(Path file) {
        try (Connection connection = DriverManager.getConnection("jdbc:sqlite:" + file);
                Statement statement = connection.createStatement()) {
            statement.execute("PRAGMA query_only = ON");
            return faults(statement);
        } catch (SQLException damaged) {
            return List.of("It is no database that can be read: " + damaged.getMessage());
        }
    }

    private static List<String> faults(Statement statement) throws SQLException {
        List<String> faults = new ArrayList<>();
        try (ResultSet result = statement.executeQuery("PRAGMA integrity_check(20)")) {
            while (result.next()) if (!"ok".equals(result.getString(1))) faults.add(result.getString(1));
        }
        try (ResultSet result = statement.executeQuery("PRAGMA foreign_key_check")) {
            while (result.next() && faults.size() < 40)
                faults.add("A row of %s refers to one of %s that is not there."
                        .formatted(result.getString(1), result.getString(3)));
        }
        return faults;
    }

    /**
     * Puts a backup in the place of the database of a folder that no service uses; what was there stays beside it.
     *
     * @param masterKey with which the service will open what is sealed in it
     * @param keepTokens whether tokens issued before hold on; else they are ended, because what was withdrawn since the
     *     backup is not known
     * @return where the database that was there is now; the same path as the database when there was none
     * @throws CannotOpen when the backup is damaged, of a newer version, or sealed with another master key
     */
    public static Path restore(DataFolder folder, MasterKey masterKey, Path from, boolean keepTokens, Instant now) {
        if (!Files.isReadable(from))
            throw new CannotOpen(
                    "The backup %s cannot be read. Name a file that a backup was written to.".formatted(from));
        List<String> faults = faults(from);
        if (!faults.isEmpty())
            throw new CannotOpen(
                    "The backup %s is damaged, and nothing was changed: %s".formatted(from, faults.getFirst()));
        Path beside = folder.path().resolve("admit.db.restoring");
        try {
            Files.copy(from, beside, StandardCopyOption.REPLACE_EXISTING);
            Files.setPosixFilePermissions(beside, PosixFilePermissions.fromString("rw-------"));
            checkSeals(beside, masterKey); // opened with that it is of this version or older, and brought up to date
            if (!keepTokens) endTokens(beside, now);
            for (String more : List.of("-wal", "-shm")) Files.deleteIfExists(Path.of(beside + more));
            try (FileChannel channel = FileChannel.open(beside, StandardOpenOption.WRITE)) {
                channel.force(true);
            }
            Path before = folder.database();
            if (Files.exists(folder.database())) {
                before = folder.path()
                        .resolve("admit.db.before-" + now.toString().replaceAll("[^0-9TZ]", ""));
                Database.open(folder.database()).close(); // so that nothing of it is left in its log
                Files.move(folder.database(), before, StandardCopyOption.ATOMIC_MOVE);
                for (String more : List.of("-wal", "-shm")) Files.deleteIfExists(Path.of(folder.database() + more));
            }
            Files.move(beside, folder.database(), StandardCopyOption.ATOMIC_MOVE);
            return before;
        } catch (IOException | SQLException cause) {
            throw new CannotOpen(
                    "The backup cannot be put into %s (%s). Make room or make it writable; what was there is as it was."
                            .formatted(folder.path(), cause),
                    cause);
        } finally {
            try {
                Files.deleteIfExists(beside);
            } catch (IOException left) {
                // a file of that name is overwritten by the next one
            }
        }
    }

    private static void checkSeals(Path database, MasterKey masterKey) {
        try (Database opened = Database.open(database)) {
            for (var key : new SqliteSigningKeys(opened).all()) masterKey.open(key.sealed(), key.kid());
        } catch (SigningFault another) {
            throw new CannotOpen(
                    "The backup was made with another master key, and nothing was changed. Put the master.key of "
                            + "that time into the folder, or give it in ADMIT_MASTER_KEY.",
                    another);
        }
    }

    /** Every token for every API, minted before now. */
    private static void endTokens(Path database, Instant now) throws SQLException {
        try (Connection connection = DriverManager.getConnection("jdbc:sqlite:" + database);
                PreparedStatement end = connection.prepareStatement(
                        "INSERT INTO revocation (issuer_id, audience, before_order, drop_at) SELECT issuer_id, "
                                + "audience, ?, ? FROM api")) {
            end.setLong(1, TokenIds.orderAt(now));
            end.setLong(
                    2, now.plus(Lifetime.LONGEST).plus(Duration.ofMinutes(1)).toEpochMilli());
            end.executeUpdate();
        }
    }
}
