package dev.admit.store;

import java.nio.file.Path;
import java.util.Arrays;
import java.util.Optional;
import javax.sql.DataSource;
import org.flywaydb.core.Flyway;
import org.flywaydb.core.api.FlywayException;
import org.flywaydb.core.api.MigrationInfo;
import org.flywaydb.core.api.MigrationState;

/** Brings a database to the schema of this version, and refuses one that is ahead of it. */
final class Migrations {
    private Migrations() {}

    static void bringUpToDate(DataSource source, Path file) {
        try {
            // ignoreMigrationPatterns: a database ahead of us is named below, in plainer words than a validation error.
            Flyway flyway = Flyway.configure()
                    .dataSource(source)
                    .locations("classpath:db/migration")
                    .javaMigrations(new V0024__PlainWordsInJson())
                    .ignoreMigrationPatterns("*:future")
                    .loggers("slf4j")
                    .load();
            Optional<MigrationInfo> ahead = Arrays.stream(flyway.info().all())
                    .filter(it -> it.getState() == MigrationState.FUTURE_SUCCESS
                            || it.getState() == MigrationState.FUTURE_FAILED)
                    .findFirst();
            if (ahead.isPresent()) {
                throw new CannotOpen(
                        ("The database %s was made by a newer version of Admit (schema %s). Start that version, or "
                                        + "restore a backup.")
                                .formatted(file, ahead.get().getVersion()));
            }
            flyway.migrate();
        } catch (FlywayException cause) {
            throw new CannotOpen(
                    "The database %s cannot be opened or brought up to date: %s".formatted(file, firstLine(cause)),
                    cause);
        }
    }

    private static String firstLine(FlywayException cause) {
        Throwable deepest = cause;
        while (deepest.getCause() != null) deepest = deepest.getCause();
        return String.valueOf(deepest.getMessage()).lines().findFirst().orElse("no reason given");
    }
}
