package dev.admit.store;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.admit.core.change.Page;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Decision;
import dev.admit.core.decision.Decisions;
import dev.admit.core.decision.Mend;
import dev.admit.core.decision.Plane;
import dev.admit.core.decision.Reason;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.Statement;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class DatabaseTest {
    @TempDir Path folder;

    @Test void whatWaitsTogetherIsCommittedTogetherAndAFaultTakesOnlyItsOwnWork() throws Exception {
        try (Database database = Database.open(folder.resolve("a.db"))) {
            SqliteSettings settings = new SqliteSettings(database);
            CountDownLatch go = new CountDownLatch(1);
            AtomicInteger faults = new AtomicInteger();
            List<Thread> threads = new ArrayList<>();
            for (int i = 0; i < 50; i++) {
                int n = i;
                threads.add(Thread.ofVirtual().start(() -> {
                    try {
                        go.await();
                        database.inOne(() -> {
                            settings.put("n" + n, "x");
                            if (n % 5 == 0) throw new IllegalStateException("changed its mind");
                            return null;
                        });
                    } catch (IllegalStateException expected) {
                        faults.incrementAndGet();
                    } catch (InterruptedException interrupted) {
                        Thread.currentThread().interrupt();
                    }
                }));
            }
            go.countDown();
            for (Thread thread : threads) thread.join();
            assertThat(faults).hasValue(10);
            for (int i = 0; i < 50; i++) assertThat(settings.find("n" + i).isPresent()).as("n%d", i).isEqualTo(i % 5 != 0);
        }
    }

    @Test void aReaderCannotWrite() {
        try (Database database = Database.open(folder.resolve("a.db"))) {
            assertThatThrownBy(() -> database.list("DELETE FROM setting RETURNING name", row -> row.text("name"))).isInstanceOf(StoreFault.class);
        }
    }

    @Test void anOlderSchemaWithRowsInItIsBroughtUpToDate() throws Exception {
        Path file = folder.resolve("a.db");
        try (Harbour harbour = new Harbour(folder)) {
            harbour.readScope();
            harbour.client("tide-buoy-07", "tides.read");
        }
        Files.move(folder.resolve("admit.db"), file);
        try (Connection raw = DriverManager.getConnection("jdbc:sqlite:" + file); Statement statement = raw.createStatement()) {
            statement.execute("ALTER TABLE client DROP COLUMN enabled");
            statement.execute("DROP TABLE decision");
            statement.execute("DELETE FROM flyway_schema_history WHERE version IN ('0002', '0003')");
        }
        try (Database database = Database.open(file)) {
            String issuer = new SqliteIssuers(database).named("harbour").orElseThrow().id();
            assertThat(new SqliteClients(database).named(issuer, "tide-buoy-07").orElseThrow().enabled()).as("all were on before there was a switch").isTrue();
            assertThat(new SqliteDecisions(database).list(Decisions.Filter.ALL, Page.Ask.first(1)).items()).isEmpty();
        }
    }

    @Test void aDatabaseFromANewerVersionIsRefusedInPlainWords() throws Exception {
        Path file = folder.resolve("a.db");
        Database.open(file).close();
        try (Connection raw = DriverManager.getConnection("jdbc:sqlite:" + file); Statement statement = raw.createStatement()) {
            statement.execute("INSERT INTO flyway_schema_history SELECT 99, '9999', 'future', type, 'V9999__future.sql', checksum, installed_by, installed_on, 1, success "
                    + "FROM flyway_schema_history WHERE version = '0002'");
        }
        assertThatThrownBy(() -> Database.open(file)).isInstanceOf(CannotOpen.class).hasMessageContaining("newer version").hasMessageContaining("9999");
    }

    @Test void whatIsNoDatabaseIsRefusedAndLeftAlone() throws Exception {
        Path file = folder.resolve("a.db");
        Files.writeString(file, "this is a shopping list, not a database, and it stays as it is ".repeat(20));
        assertThatThrownBy(() -> Database.open(file)).isInstanceOf(CannotOpen.class);
        assertThat(Files.readString(file)).startsWith("this is a shopping list");
    }

    @Test void theMasterKeyIsMadeOnceForItsOwnerAlone() throws Exception {
        byte[] sealed;
        try (DataFolder data = DataFolder.open(folder.resolve("data"))) {
            sealed = data.masterKey(Optional.empty()).seal(new byte[] {1}, "x");
            Path key = folder.resolve("data/master.key");
            assertThat(PosixFilePermissions.toString(Files.getPosixFilePermissions(key))).isEqualTo("rw-------");
            assertThat(data.masterKey(Optional.empty()).open(sealed, "x")).containsExactly(1);
            Files.setPosixFilePermissions(key, PosixFilePermissions.fromString("rw-r--r--"));
            assertThatThrownBy(() -> data.masterKey(Optional.empty())).isInstanceOf(CannotOpen.class).hasMessageContaining("chmod 600");
        }
    }

    @Test void dataWithoutItsMasterKeyIsRefused() throws Exception {
        try (DataFolder data = DataFolder.open(folder.resolve("data"))) {
            data.masterKey(Optional.empty());
            Database.open(data.database()).close();
            Files.delete(folder.resolve("data/master.key"));
            assertThatThrownBy(() -> data.masterKey(Optional.empty())).isInstanceOf(CannotOpen.class).hasMessageContaining("master.key is missing");
            assertThat(Files.exists(folder.resolve("data/master.key"))).isFalse();
            assertThatThrownBy(() -> data.masterKey(Optional.of("c2hvcnQ="))).isInstanceOf(CannotOpen.class).hasMessageContaining("ADMIT_MASTER_KEY");
        }
    }

    @Test void twoProcessesCannotHaveOneFolder() {
        try (DataFolder data = DataFolder.open(folder.resolve("data"))) {
            assertThat(data.path()).isDirectory();
            assertThatThrownBy(() -> DataFolder.open(folder.resolve("data"))).isInstanceOf(CannotOpen.class).hasMessageContaining("in use");
        }
    }

    @Test void aFolderThatCannotBeWrittenIsNamed() throws Exception {
        Files.writeString(folder.resolve("file"), "");
        assertThatThrownBy(() -> DataFolder.open(folder.resolve("file/data"))).isInstanceOf(CannotOpen.class).hasMessageContaining("--data");
    }

    @Test void aDecisionIsReadAsItWasWrittenAndFound() {
        try (Database database = Database.open(folder.resolve("a.db"))) {
            SqliteDecisions decisions = new SqliteDecisions(database);
            Decision.Builder refused = new Decision.Builder(Plane.GATEWAY, Instant.parse("2026-06-01T12:00:00Z")).request("GET", "/x", "127.0.0.1").issuer("harbour");
            refused.add(CheckResult.passed("route", "a", "b"));
            refused.add(new CheckResult.Skipped("form", "why"));
            refused.add(CheckResult.refused("audience", Reason.WRONG_AUDIENCE, "x", "y \"quoted\" \u2028", Mend.of("z", "admit z").by("an administrator")));
            Decision first = refused.done("something").answered(401);
            Decision second = new Decision.Builder(Plane.TOKEN, Instant.parse("2026-06-01T12:00:01Z")).issuer("gullwing").answered(200);
            decisions.keep(List.of(first, second));
            assertThat(decisions.find(first.id())).hasValue(first);
            assertThat(decisions.list(Decisions.Filter.ALL, Page.Ask.first(10)).items()).containsExactly(second, first);
            assertThat(decisions.list(new Decisions.Filter(Optional.of("harbour"), Optional.empty(), Optional.empty(), Optional.of("refused"), Optional.of("wrong-audience"),
                    Optional.of("gateway")), Page.Ask.first(10)).items()).containsExactly(first);
            Page<Decision> page = decisions.list(Decisions.Filter.ALL, Page.Ask.first(1));
            assertThat(decisions.list(Decisions.Filter.ALL, new Page.Ask(page.next(), 1)).items()).containsExactly(first);
            assertThat(decisions.forget(Instant.parse("2026-06-01T12:00:01Z"))).isEqualTo(1);
            assertThat(decisions.find(first.id())).isEmpty();
        }
    }
}
