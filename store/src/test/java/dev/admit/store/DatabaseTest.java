package dev.admit.store;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.admit.core.change.Page;
import dev.admit.core.decision.Action;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Decision;
import dev.admit.core.decision.Decisions;
import dev.admit.core.decision.Endpoint;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import dev.admit.core.decision.Recorder;
import dev.admit.core.key.MasterKey;
import dev.admit.core.key.SigningAlgorithm;
import dev.admit.core.key.SigningKey;
import dev.admit.core.key.SigningKeys;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.IssuerSettings;
import dev.admit.core.registry.Minting;
import dev.admit.core.route.Limits;
import dev.admit.core.route.Route;
import dev.admit.core.route.Transform;
import dev.admit.core.route.Who;
import dev.admit.core.token.Revocation;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.Statement;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class DatabaseTest {
    @TempDir
    Path folder;

    @Test
    void whatWaitsTogetherIsCommittedTogetherAndAFaultTakesOnlyItsOwnWork() throws Exception {
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
            for (int i = 0; i < 50; i++)
                assertThat(settings.find("n" + i).isPresent()).as("n%d", i).isEqualTo(i % 5 != 0);
        }
    }

    @Test
    void aReaderCannotWrite() {
        try (Database database = Database.open(folder.resolve("a.db"))) {
            assertThatThrownBy(() -> database.list("DELETE FROM setting RETURNING name", row -> row.text("name")))
                    .isInstanceOf(StoreFault.class);
        }
    }

    @Test
    void anOlderSchemaWithRowsInItIsBroughtUpToDate() throws Exception {
        Path file = folder.resolve("a.db");
        org.flywaydb.core.Flyway.configure()
                .dataSource("jdbc:sqlite:" + file, "", "")
                .locations("classpath:db/migration")
                .target("3")
                .load()
                .migrate();
        SigningKey key = SigningKey.generate(SigningAlgorithm.ES256);
        MasterKey masterKey = new MasterKey(MasterKey.generate());
        try (Connection connection = DriverManager.getConnection("jdbc:sqlite:" + file);
                var statement = connection.createStatement()) {
            statement.execute(
                    "INSERT INTO issuer (id, name, title, url, revision, version, created_at) VALUES ('iss_1', "
                            + "'harbour', 'Harbour', 'http://127.0.0.1:9470/harbour', 4, 2, 1000)");
            statement.execute(
                    "INSERT INTO api (id, issuer_id, name, title, audience, upstream, version, created_at) VALUES "
                            + "('api_1', 'iss_1', 'tides', 'Tides', 'urn:tides', NULL, 1, 1000)");
            statement.execute(
                    "INSERT INTO client (id, issuer_id, name, title, kind, auth_method, owner, version, created_at, "
                            + "enabled) VALUES ('cl_1', 'iss_1', 'buoy', 'Buoy', 'service', 'client_secret_basic', "
                            + "'Corin', 3, 1000, 0)");
            statement.execute("INSERT INTO client_secret (id, client_id, label, hash, created_at, expires_at) VALUES "
                    + "('sec_1', 'cl_1', 'first', zeroblob(32), 1000, 2000)");
            statement.execute(
                    "INSERT INTO scope (id, issuer_id, api_id, name, effect, reach, holders, words, approver, "
                            + "by_role, life, given_by_default, in_metadata, version) VALUES ('sc_1', 'iss_1', "
                            + "'api_1', 'tides.read', 'reads', 'everyone', 'both', 'x', 'administrator', 0, "
                            + "'in-use', 0, 1, 1)");
            statement.execute("INSERT INTO approval (id, issuer_id, client_id, scope_id, scope_name, status, asked_at, "
                    + "asked_by, reason, version) VALUES ('ap_1', 'iss_1', 'cl_1', 'sc_1', 'tides.read', "
                    + "'declined', 1000, 'x', '', 1)");
            statement.execute(
                    "INSERT INTO route (id, issuer_id, methods, pattern, shape, api_id, scopes, any_of, version, "
                            + "created_at) VALUES ('rt_1', 'iss_1', 'GET', '/tides/**', '/tides/**', 'api_1', "
                            + "'tides.read', 0, 1, 1000)");
            statement.execute(
                    "INSERT INTO revocation (client_id, scope, before_order, drop_at) VALUES ('cl_1', 'tides.read', "
                            + "77, 9000)");
            try (var insert = connection.prepareStatement(
                    "INSERT INTO signing_key (kid, issuer_id, sealed, created_at) VALUES (?, 'iss_1', ?, 1000)")) {
                insert.setString(1, key.kid());
                insert.setBytes(2, key.sealWith(masterKey));
                insert.execute();
            }
        }
        try (Database database = Database.open(file)) {
            Issuer issuer = new SqliteIssuers(database).named("harbour").orElseThrow();
            assertThat(issuer.settings()).isEqualTo(IssuerSettings.USUAL);
            assertThat(new SqliteApis(database)
                            .named("iss_1", "tides")
                            .orElseThrow()
                            .minting())
                    .isEqualTo(Minting.USUAL);
            database.update(
                    "UPDATE api SET minting = ?",
                    "{\"lifetime\":\"PT5M\","
                            + "\"format\":\"jwt\",\"claims\":[],\"exceptions\":[{\"name\":\"n\",\"clients\":[\"buo"
                            + "y\"],\"tags\":[],\"grantTypes\":[],\"lifetime\":\"PT1M\",\"format\":null"
                            + ",\"without\":[]}]}");
            Minting older = new SqliteApis(database)
                    .named("iss_1", "tides")
                    .orElseThrow()
                    .minting();
            assertThat(older.maxRefreshAge())
                    .as("what was written before there were refresh tokens")
                    .isEqualTo(Minting.USUAL.maxRefreshAge());
            assertThat(older.exceptions().getFirst().refreshIdleTimeout()).isEmpty();
            Client client = new SqliteClients(database).named("iss_1", "buoy").orElseThrow();
            assertThat(client.people()).isEqualTo(Client.People.USUAL);
            assertThat(client.enabled()).isFalse();
            assertThat(client.addresses()).isEqualTo(Client.Addresses.NONE);
            assertThat(client.mayUse("client_credentials")).isTrue();
            assertThat(new SqliteClients(database).secretsOf("cl_1").getFirst().expiresAt())
                    .hasValue(Instant.ofEpochMilli(2000));
            assertThat(new SqliteRevocations(database).all())
                    .containsExactly(new Revocation(
                            new Revocation.Meant.OfClient("cl_1", Optional.of("tides.read")),
                            77,
                            Instant.ofEpochMilli(9000)));
            SigningKeys.Stored kept =
                    new SqliteSigningKeys(database).of("iss_1").getFirst();
            assertThat(kept.signsFrom()).isEqualTo(Instant.ofEpochMilli(1000));
            assertThat(new SqliteApprovals(database).ofClient("cl_1").getFirst().lastWord())
                    .as("who declined was an administrator")
                    .isTrue();
            Route route = new SqliteRoutes(database).find("iss_1", "rt_1").orElseThrow();
            assertThat(List.of(route.transform(), route.limits(), ((Route.Guard.Token) route.guard()).who()))
                    .isEqualTo(List.of(Transform.NONE, Limits.NONE, Who.ANYONE));
            assertThat(new SqliteRevisions(database).at("iss_1", 4))
                    .as("history begins with what stands")
                    .containsExactly(route);
            assertThat(new SqliteRevisions(database).find("iss_1", 4)).isPresent();
            assertThat(SigningKey.unseal(kept.kid(), kept.sealed(), masterKey).published())
                    .isEqualTo(key.published());
        }
    }

    /** Without this, a migration that somebody adds would never run on a database that has all the others. */
    @Test
    void theNewestMigrationIsTheOneThatEndsTheSearch() throws Exception {
        Path file = folder.resolve("a.db");
        Database.open(file).close();
        try (Connection raw = DriverManager.getConnection("jdbc:sqlite:" + file);
                Statement statement = raw.createStatement()) {
            var last = statement.executeQuery("SELECT max(version), count(*) FROM flyway_schema_history");
            assertThat(last.getString(1)).isEqualTo(Migrations.NEWEST);
            statement.execute("UPDATE flyway_schema_history SET success = 0 WHERE version = '0010'");
        }
        assertThatThrownBy(() -> Database.open(file)).isInstanceOf(CannotOpen.class);
    }

    @Test
    void aDatabaseFromANewerVersionIsRefusedInPlainWords() throws Exception {
        Path file = folder.resolve("a.db");
        Database.open(file).close();
        try (Connection raw = DriverManager.getConnection("jdbc:sqlite:" + file);
                Statement statement = raw.createStatement()) {
            statement.execute(
                    "INSERT INTO flyway_schema_history SELECT 99, '9999', 'future', type, 'V9999__future.sql', "
                            + "checksum, installed_by, installed_on, 1, success "
                            + "FROM flyway_schema_history WHERE version = '0002'");
        }
        assertThatThrownBy(() -> Database.open(file))
                .isInstanceOf(CannotOpen.class)
                .hasMessageContaining("newer version")
                .hasMessageContaining("9999");
    }

    @Test
    void whatIsNoDatabaseIsRefusedAndLeftAlone() throws Exception {
        Path file = folder.resolve("a.db");
        Files.writeString(file, "this is a shopping list, not a database, and it stays as it is ".repeat(20));
        assertThatThrownBy(() -> Database.open(file)).isInstanceOf(CannotOpen.class);
        assertThat(Files.readString(file)).startsWith("this is a shopping list");
    }

    @Test
    void theMasterKeyIsMadeOnceForItsOwnerAlone() throws Exception {
        byte[] sealed;
        try (DataFolder data = DataFolder.open(folder.resolve("data"))) {
            sealed = data.masterKey(Optional.empty()).seal(new byte[] {1}, "x");
            Path key = folder.resolve("data/master.key");
            assertThat(PosixFilePermissions.toString(Files.getPosixFilePermissions(key)))
                    .isEqualTo("rw-------");
            assertThat(data.masterKey(Optional.empty()).open(sealed, "x")).containsExactly(1);
            Files.setPosixFilePermissions(key, PosixFilePermissions.fromString("rw-r--r--"));
            assertThatThrownBy(() -> data.masterKey(Optional.empty()))
                    .isInstanceOf(CannotOpen.class)
                    .hasMessageContaining("chmod 600");
        }
    }

    @Test
    void dataWithoutItsMasterKeyIsRefused() throws Exception {
        try (DataFolder data = DataFolder.open(folder.resolve("data"))) {
            data.masterKey(Optional.empty());
            Database.open(data.database()).close();
            Files.delete(folder.resolve("data/master.key"));
            assertThatThrownBy(() -> data.masterKey(Optional.empty()))
                    .isInstanceOf(CannotOpen.class)
                    .hasMessageContaining("master.key is missing");
            assertThat(Files.exists(folder.resolve("data/master.key"))).isFalse();
            assertThatThrownBy(() -> data.masterKey(Optional.of("c2hvcnQ=")))
                    .isInstanceOf(CannotOpen.class)
                    .hasMessageContaining("ADMIT_MASTER_KEY");
        }
    }

    @Test
    void twoProcessesCannotHaveOneFolder() {
        try (DataFolder data = DataFolder.open(folder.resolve("data"))) {
            assertThat(data.path()).isDirectory();
            assertThatThrownBy(() -> DataFolder.open(folder.resolve("data")))
                    .isInstanceOf(CannotOpen.class)
                    .hasMessageContaining("in use");
        }
    }

    @Test
    void aFolderThatCannotBeWrittenIsNamed() throws Exception {
        Files.writeString(folder.resolve("file"), "");
        assertThatThrownBy(() -> DataFolder.open(folder.resolve("file/data")))
                .isInstanceOf(CannotOpen.class)
                .hasMessageContaining("--data");
    }

    @Test
    void aFixOfBeforeIsReadFromItsLine() {
        CheckResult read = DecisionJson.read("""
                        [{"check":"client","passed":false,"reason":"client-switched-off","expected":"a","received":"b",
                        "fix":"Have it switched on.","command":"admit client on old-crane --issuer harbour",
                        "who":"an operator"}]""").getFirst();
        assertThat(((CheckResult.Refused) read).refusal().fix())
                .isEqualTo(Fix.of(
                                "Have it switched on.",
                                Action.of("client", "on", "old-crane").at("harbour"))
                        .by("an operator"));
    }

    @Test
    void aDecisionIsReadAsItWasWrittenAndFound() {
        try (Database database = Database.open(folder.resolve("a.db"))) {
            SqliteDecisions decisions = new SqliteDecisions(database);
            Recorder refused = new Recorder(Endpoint.GATEWAY, Instant.parse("2026-06-01T12:00:00Z"))
                    .request("GET", "/x", "127.0.0.1")
                    .issuer("harbour");
            refused.add(CheckResult.passed("route", "a", "b"));
            refused.add(new CheckResult.Skipped("form", "why"));
            refused.add(CheckResult.refused(
                    "audience",
                    Reason.WRONG_AUDIENCE,
                    "x",
                    "y \"quoted\" \u2028",
                    Fix.of("z", Action.of("client", "change", "two words").with("add-grant-type", "x"))
                            .by("an administrator")));
            Decision first = refused.done("something").answered(401);
            Decision second = new Recorder(Endpoint.TOKEN, Instant.parse("2026-06-01T12:00:01Z"))
                    .issuer("gullwing")
                    .answered(200);
            decisions.keep(List.of(first, second));
            assertThat(decisions.find(first.id())).hasValue(first);
            assertThat(decisions.list(Decisions.Filter.ALL, Page.Ask.first(10)).items())
                    .containsExactly(second, first);
            assertThat(decisions
                            .list(
                                    new Decisions.Filter(
                                            Optional.of("harbour"),
                                            Optional.empty(),
                                            Optional.empty(),
                                            Optional.empty(),
                                            Optional.empty(),
                                            Optional.of("refused"),
                                            Optional.of("wrong-audience"),
                                            Optional.of("gateway"),
                                            Optional.of(first.at()),
                                            Optional.empty(),
                                            Optional.empty(),
                                            false),
                                    Page.Ask.first(10))
                            .items())
                    .containsExactly(first);
            assertThat(decisions.count(Decisions.Filter.ALL, Decisions.By.VERDICT, Optional.empty()))
                    .extracting(Decisions.Count::decisions)
                    .containsExactlyInAnyOrder(1L, 1L);
            assertThat(decisions.count(
                            Decisions.Filter.ALL, Decisions.By.ENDPOINT, Optional.of(java.time.Duration.ofDays(1))))
                    .allSatisfy(it -> assertThat(it.from()).hasValue(Instant.parse("2026-06-01T00:00:00Z")));
            Page<Decision> page = decisions.list(Decisions.Filter.ALL, Page.Ask.first(1));
            assertThat(decisions
                            .list(Decisions.Filter.ALL, new Page.Ask(page.next(), 1))
                            .items())
                    .containsExactly(first);
            assertThat(decisions.forget(Instant.parse("2026-06-01T12:00:01Z"))).isEqualTo(1);
            assertThat(decisions.find(first.id())).isEmpty();
        }
    }

    private static void limitPages(Database database, long most) {
        database.inOne(() -> database.list("PRAGMA max_page_count = " + most, row -> 0));
    }

    @Test
    void aFullDiskRefusesLosesNothingThatWasAcknowledgedAndIsRecoveredFrom() {
        try (Harbour harbour = new Harbour(folder)) {
            harbour.readScope();
            long pages = harbour.database
                    .one("PRAGMA page_count", row -> row.number("page_count"))
                    .orElseThrow();
            limitPages(harbour.database, pages + 10);
            List<String> acknowledged = new ArrayList<>();
            assertThatThrownBy(() -> {
                        for (int i = 0; i < 1_000; i++) {
                            harbour.client("buoy-" + i, "tides.read");
                            acknowledged.add("buoy-" + i);
                        }
                    })
                    .isInstanceOf(StoreFault.class)
                    .hasMessageContaining("full");
            assertThat(acknowledged).isNotEmpty();
            SqliteClients clients = new SqliteClients(harbour.database);
            for (String name : acknowledged) {
                Client client = clients.named(harbour.issuer.id(), name).orElseThrow();
                assertThat(clients.secretsOf(client.id())).hasSize(1);
                assertThat(harbour.approvals.ofClient(client.id())).hasSize(1);
            }
            assertThat(clients.named(harbour.issuer.id(), "buoy-" + acknowledged.size()))
                    .as("nothing half-written")
                    .isEmpty();
            assertThat(harbour.audit.verify(harbour.issuer.id(), seq -> {}))
                    .isInstanceOf(dev.admit.core.audit.Audit.Proof.Whole.class);
            limitPages(harbour.database, pages * 100);
            harbour.client("after-room-was-made", "tides.read");
            assertThat(Backup.faults(folder.resolve("admit.db"))).isEmpty();
        }
    }

    @Test
    void aClockThatIsSetBackAnHourOrdersTokensAndWithdrawalsAsTheyCame() {
        SettableClock clock = new SettableClock("2026-06-01T12:00:00Z");
        try (Harbour harbour = new Harbour(folder, clock)) {
            harbour.readScope();
            var buoy = harbour.client("buoy", "tides.read");
            harbour.given(buoy);
            var before = harbour.order.minting(id -> id);
            clock.move(Duration.ofHours(-1));
            assertThat(harbour.order.minting(id -> id).order())
                    .as("ids go on growing")
                    .isGreaterThan(before.order());
            Harbour.made(harbour.approving.withdraw(
                    buoy.client(),
                    buoy.requested().getFirst(),
                    "over",
                    Harbour.CORIN,
                    dev.admit.core.change.Expected.ANY));
            assertThat(harbour.revocations.ending(token(harbour, buoy.client(), before)))
                    .as("minted an hour ahead by the clock, but before")
                    .isPresent();
            Harbour.made(harbour.approving.request(buoy.client(), "tides.read", Harbour.CORIN));
            harbour.given(buoy);
            assertThat(harbour.revocations.ending(token(harbour, buoy.client(), harbour.order.minting(id -> id))))
                    .as("given anew")
                    .isEmpty();
            assertThat(harbour.audit.verify(harbour.issuer.id(), seq -> {}))
                    .isInstanceOf(dev.admit.core.audit.Audit.Proof.Whole.class);
            assertThat(harbour.keys.of(harbour.issuer))
                    .as("the keys that sign still do")
                    .hasSize(2);
            assertThat(harbour.configuration
                            .get()
                            .issuer("harbour")
                            .orElseThrow()
                            .keys()
                            .activeAt(clock.instant())
                            .kid())
                    .isEqualTo(harbour.keys.of(harbour.issuer).getFirst().kid());
        }
    }

    private static dev.admit.core.token.IssuedToken token(
            Harbour harbour, Client client, dev.admit.core.token.TokenId id) {
        return new dev.admit.core.token.IssuedToken(
                harbour.issuer.id(), client.id(), id, List.of("urn:x"), List.of("tides.read"), "", client.id(), "", "");
    }

    @Test
    void anErrorInAPieceOfWorkEndsThatPieceAlone() {
        try (Database database = Database.open(folder.resolve("a.db"))) {
            SqliteSettings settings = new SqliteSettings(database);
            for (Error error : List.of(
                    new OutOfMemoryError("made up"),
                    new StackOverflowError("made up"),
                    new AssertionError("made up"))) {
                assertThatThrownBy(() -> database.inOne(() -> {
                            settings.put("half", "written");
                            throw error;
                        }))
                        .isSameAs(error);
                settings.put("after", error.toString());
            }
            assertThat(settings.find("half")).as("nothing of it is written").isEmpty();
            assertThat(settings.find("after"))
                    .hasValueSatisfying(it -> assertThat(it).contains("AssertionError"));
        }
    }
}
