package dev.admit.store;

import java.nio.file.Path;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.Arrays;
import java.util.Optional;
import javax.sql.DataSource;
import org.flywaydb.core.Flyway;
import org.flywaydb.core.api.FlywayException;
import org.flywaydb.core.api.MigrationInfo;
import org.flywaydb.core.api.MigrationState;

/** Brings a database to the schema of this version, and refuses one that is ahead of it. */
final class Migrations {
    /**
     * The version of the newest migration. A database that records it as its last is up to date, and most of a start's
     * time for the database would go to finding that out from the migrations themselves. A test holds this to them.
     */
    static final String NEWEST = "0030";

    private Migrations() {}

    /** @throws CannotOpen when the database is ahead of this version, damaged, or cannot be written */
    static void bringUpToDate(DataSource source, Path file) {
        if (isUpToDate(source)) return;
        try {
            // ignoreMigrationPatterns: a database ahead of us is named below, in plainer words than a validation error.
            Flyway flyway = Flyway.configure()
                    .dataSource(source)
                    .locations("classpath:db/migration")
                    .javaMigrations(new V0024__PlainWordsInJson(), new V0028__HowClientsLook())
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

    /** Whether the last migration recorded is the newest, and none failed; whatever is unclear is not up to date. */
    private static boolean isUpToDate(DataSource source) {
        try (Connection connection = source.getConnection();
                Statement statement = connection.createStatement();
                ResultSet last = statement.executeQuery(
                        "SELECT max(version), min(success) FROM flyway_schema_history WHERE version IS NOT NULL")) {
            return last.next() && NEWEST.equals(last.getString(1)) && last.getBoolean(2);
        } catch (SQLException noneYet) {
            return false;
        }
    }

    private static String firstLine(FlywayException cause) {
        Throwable deepest = cause;
        while (deepest.getCause() != null) deepest = deepest.getCause();
        return String.valueOf(deepest.getMessage()).lines().findFirst().orElse("no reason given");
    }
}
