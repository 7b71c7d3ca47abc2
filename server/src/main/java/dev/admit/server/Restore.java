package dev.admit.server;

import dev.admit.store.Backup;
import dev.admit.store.DataFolder;
import java.nio.file.Path;
import java.time.Clock;
import java.util.Optional;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;

/** {@code admit restore}: a backup put in the place of the database, while the service is stopped. */
@Command(
        name = "admit restore",
        mixinStandardHelpOptions = true,
        sortOptions = false,
        description = {
            "Puts a backup in the place of the database of a stopped service; what was there stays beside it.",
            "The master key is not part of a backup: the folder must have the one that was there when it was made.",
            "Tokens issued before are ended, because what was withdrawn since the backup is not known."
        },
        footer = {"", "Example: admit restore --data /var/lib/admit --from admit-backup.db"})
public final class Restore implements Callable<Integer> {
    @Option(
            names = "--data",
            paramLabel = "DIR",
            description = "Folder of database and master key. Default: ./admit-data.")
    private Path data = Path.of("admit-data");

    @Option(names = "--from", paramLabel = "FILE", required = true, description = "The backup.")
    @SuppressWarnings("NullAway.Init") // by the command line
    private Path from;

    @Option(names = "--keep-tokens", description = "Let tokens issued before hold on.")
    private boolean keepTokens;

    public static void main(String[] args) {
        System.exit(Main.commandLine(new Restore()).execute(args));
    }

    @Override
    public Integer call() {
        try (DataFolder folder = DataFolder.open(data)) {
            Path before = Backup.restore(
                    folder,
                    folder.presentMasterKey(Optional.ofNullable(System.getenv("ADMIT_MASTER_KEY"))
                            .filter(key -> !key.isBlank())),
                    from,
                    keepTokens,
                    Clock.systemUTC().instant());
            System.out.println("The backup is in place%s."
                    .formatted(before.equals(folder.database()) ? "" : "; what was there is now " + before));
            System.out.println("Next: " + dev.admit.core.decision.Command.of("start", "--data", data.toString()));
        }
        return 0;
    }
}
