package dev.admit.store;

import dev.admit.core.key.MasterKey;
import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.channels.OverlappingFileLockException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.PosixFilePermission;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.Base64;
import java.util.Optional;
import java.util.Set;

/**
 * The folder that holds the database and, beside it and never inside it, the master key. One process uses it at a time.
 */
public final class DataFolder implements AutoCloseable {
    private static final Set<PosixFilePermission> OWNER_ONLY = PosixFilePermissions.fromString("rw-------");
    private final Path folder;
    private final FileChannel lock;

    private DataFolder(Path folder, FileChannel lock) {
        this.folder = folder;
        this.lock = lock;
    }

    /** @throws CannotOpen when it cannot be written, or another process has it */
    public static DataFolder open(Path folder) {
        try {
            if (!Files.isDirectory(folder)) {
                Files.createDirectories(
                        folder, PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rwx------")));
            }
            FileChannel channel =
                    FileChannel.open(folder.resolve("admit.lock"), StandardOpenOption.CREATE, StandardOpenOption.WRITE);
            if (isLockedByAnother(channel)) {
                channel.close();
                throw new CannotOpen(
                        ("The data folder %s is in use by another Admit. Stop that one, or name another folder with "
                                        + "--data.")
                                .formatted(folder));
            }
            return new DataFolder(folder, channel);
        } catch (IOException cause) {
            throw new CannotOpen(
                    "The data folder %s cannot be written (%s). Make it writable, or name another with --data."
                            .formatted(folder, cause),
                    cause);
        }
    }

    private static boolean isLockedByAnother(FileChannel channel) throws IOException {
        try {
            return channel.tryLock() == null; // held until the channel is closed
        } catch (OverlappingFileLockException inThisProcess) {
            return true;
        }
    }

    public Path database() {
        return folder.resolve("admit.db");
    }

    public Path path() {
        return folder;
    }

    /**
     * The master key: from the environment where it is given there, else from the file, which is made on the first
     * start.
     *
     * @param given base64 of 32 bytes, from the environment
     * @throws CannotOpen when there is data but no key for it, or the file can be read by others
     */
    public MasterKey masterKey(Optional<String> given) {
        if (given.isPresent()) return decode(given.get(), "ADMIT_MASTER_KEY");
        Path file = folder.resolve("master.key");
        try {
            if (!Files.exists(file)) {
                if (Files.exists(database())) {
                    throw new CannotOpen(("The data in %s has no master key: %s is missing. Put it back, or give it in "
                                    + "ADMIT_MASTER_KEY; without it the signing keys cannot be opened.")
                            .formatted(folder, file));
                }
                writePrivately(file, Base64.getEncoder().encodeToString(MasterKey.generate()) + "\n");
            }
            if (!Files.getPosixFilePermissions(file).equals(OWNER_ONLY)) {
                throw new CannotOpen(
                        "The master key %s can be read by others. Run: chmod 600 %s".formatted(file, file));
            }
            return decode(Files.readString(file).strip(), file.toString());
        } catch (IOException cause) {
            throw new CannotOpen("The master key %s cannot be read (%s).".formatted(file, cause), cause);
        }
    }

    /**
     * The master key that is there; none is made.
     *
     * @throws CannotOpen when there is none
     */
    public MasterKey presentMasterKey(Optional<String> given) {
        Path file = folder.resolve("master.key");
        if (given.isEmpty() && !Files.exists(file)) {
            throw new CannotOpen(
                    ("There is no master key: %s is missing. Put the one there that was in use when the backup was "
                                    + "made, or give it in ADMIT_MASTER_KEY.")
                            .formatted(file));
        }
        return masterKey(given);
    }

    private static MasterKey decode(String base64, String where) {
        try {
            return new MasterKey(Base64.getDecoder().decode(base64));
        } catch (IllegalArgumentException wrong) {
            throw new CannotOpen(where + " holds no master key: expected base64 of 32 bytes.", wrong);
        }
    }

    /** Writes a file that only its owner can read, at once and whole. */
    public static void writePrivately(Path file, String text) throws IOException {
        Path beside = Files.createTempFile(
                file.toAbsolutePath().getParent(), ".admit", null, PosixFilePermissions.asFileAttribute(OWNER_ONLY));
        try (FileChannel channel = FileChannel.open(beside, StandardOpenOption.WRITE)) {
            channel.write(java.nio.ByteBuffer.wrap(text.getBytes(java.nio.charset.StandardCharsets.UTF_8)));
            channel.force(true);
        }
        Files.move(
                beside,
                file,
                java.nio.file.StandardCopyOption.ATOMIC_MOVE,
                java.nio.file.StandardCopyOption.REPLACE_EXISTING);
    }

    @Override
    public void close() {
        try {
            lock.close();
        } catch (IOException cause) {
            throw new StoreFault("letting go of the data folder", cause);
        }
    }
}
