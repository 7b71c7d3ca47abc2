package dev.admit.store;

import static dev.admit.store.Harbour.CORIN;
import static dev.admit.store.Harbour.api;
import static dev.admit.store.Harbour.made;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.admit.contract.ApiWanted;
import dev.admit.contract.IssuerWanted;
import dev.admit.core.audit.Audit;
import dev.admit.core.audit.AuditLine;
import dev.admit.core.audit.AuditTrail;
import dev.admit.core.change.Expected;
import dev.admit.core.change.Page;
import dev.admit.core.key.MasterKey;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** The audit holds every change, and shows whatever a person does to it behind the service's back. */
class AuditTest {
    @TempDir
    Path folder;

    private Harbour harbour;
    private SqliteAudit trail;

    @BeforeEach
    void open() {
        harbour = new Harbour(folder);
        trail = new SqliteAudit(harbour.database);
    }

    @AfterEach
    void close() {
        harbour.close();
    }

    private List<AuditLine> lines(String what) {
        return trail.list(
                        harbour.issuer.id(),
                        new AuditTrail.Filter(what, "", "", Instant.EPOCH, AuditTrail.Filter.ALL.until()),
                        Page.Ask.first(100))
                .items();
    }

    private Audit.Proof proof() {
        return harbour.audit.verify(harbour.issuer.id(), seq -> {});
    }

    private void fiveLines() {
        for (int n = 1; n <= 3; n++)
            made(harbour.apis.change(
                    harbour.issuer,
                    "tides",
                    new ApiWanted(null, "Heights " + n, null, null),
                    Expected.ANY,
                    null,
                    CORIN));
        assertThat(proof()).isEqualTo(new Audit.Proof.Whole(1, 5));
    }

    @Test
    void aChangeIsKeptWithWhoFromWhereAndWhatDiffers() {
        made(harbour.apis.change(
                harbour.issuer, "tides", new ApiWanted(null, "Heights", null, null), Expected.ANY, null, CORIN));
        AuditLine line = lines("api.changed").getFirst();
        assertThat(line.who()).isEqualTo("Corin Ashby");
        assertThat(line.from()).isEqualTo("127.0.0.1");
        assertThat(line.on()).isEqualTo("tides");
        assertThat(line.before()).isEqualTo("{\"title\":\"tides\",\"version\":1}");
        assertThat(line.after()).isEqualTo("{\"title\":\"Heights\",\"version\":2}");
    }

    @Test
    void everyKindOfChangeLeavesALine() {
        harbour.readScope();
        var client = harbour.client("buoy", "tides.read");
        harbour.given(client);
        made(harbour.approving.withdraw(client.client(), client.requested().getFirst(), "over", CORIN, Expected.ANY));
        made(harbour.clients.switchTo(harbour.issuer, "buoy", false, Expected.ANY, CORIN));
        made(harbour.clients.remove(harbour.issuer, "buoy", Expected.ANY, "buoy", CORIN));
        var route =
                made(harbour.routes.add(harbour.issuer, Harbour.route("GET", "/tides/**", "tides.read"), null, CORIN));
        made(harbour.routes.remove(harbour.issuer, route.route().id(), Expected.ANY, null, CORIN));
        assertThat(lines("").reversed().stream().map(AuditLine::what))
                .containsExactly(
                        "issuer.added",
                        "api.added",
                        "scope.added",
                        "client.added",
                        "approval.asked",
                        "approval.granted",
                        "approval.withdrawn",
                        "client.off",
                        "client.removed",
                        "route.added",
                        "route.removed");
        assertThat(lines("approval")).hasSize(3);
        assertThat(proof()).isEqualTo(new Audit.Proof.Whole(1, 11));
    }

    @Test
    void noSecretAndNoHashOfOneIsInIt() {
        var made = harbour.client("buoy");
        var another = made(harbour.clients.addSecret(harbour.issuer, "buoy", "second", "1d", CORIN));
        String all = String.join("\n", lines("").stream().map(AuditLine::text).toList());
        assertThat(all)
                .contains("secret.added")
                .doesNotContain(
                        made.secret().orElseThrow().secret().reveal(),
                        another.secret().reveal(),
                        "admsec_");
        byte[] hash = another.kept().hash().bytes();
        assertThat(all)
                .doesNotContain(
                        java.util.HexFormat.of().formatHex(hash),
                        java.util.Base64.getEncoder().encodeToString(hash));
    }

    @Test
    void aRefusedChangeLeavesNone() {
        made(harbour.apis.register(harbour.issuer, api("berths", null), CORIN));
        harbour.apis.register(harbour.issuer, api("berths", null), CORIN);
        assertThat(lines("api.added")).hasSize(2);
    }

    @ParameterizedTest(name = "{0}")
    @CsvSource(delimiter = '|', textBlock = """
            UPDATE audit SET who = 'Nobody' WHERE seq = 3                            | 3
            UPDATE audit SET at = at + 1 WHERE seq = 1                               | 1
            UPDATE audit SET now_is = '{}' WHERE seq = 5                             | 5
            UPDATE audit SET from_address = '::1' WHERE seq = 2                      | 2
            UPDATE audit SET expires_at = 1, token_id = 'x' WHERE seq = 4            | 4
            DELETE FROM audit WHERE seq = 3                                          | 3
            DELETE FROM audit WHERE seq = 1                                          | 1
            DELETE FROM audit WHERE seq = 5                                          | 5
            DELETE FROM audit                                                        | 1
            UPDATE audit SET seq = 9 WHERE seq = 5                                   | 6
            UPDATE audit_ends SET sealed = zeroblob(200)                             | 0
            UPDATE audit_ends SET sealed = (SELECT sealed FROM audit_ends LIMIT 1) WHERE 1 | whole""")
    void whatIsDoneBehindItsBackIsFound(String sql, String expected) {
        fiveLines();
        harbour.database.update(sql);
        if (expected.equals("whole")) assertThat(proof()).isInstanceOf(Audit.Proof.Whole.class);
        else
            assertThat(proof()).isInstanceOfSatisfying(Audit.Proof.Broken.class, broken -> assertThat(broken.seq())
                    .isBetween(Long.parseLong(expected) - 1, Long.parseLong(expected)));
    }

    @Test
    void aChainThatWasComputedAnewIsFoundByTheSealedEnd() {
        fiveLines();
        // A person with the database alone: other lines, chained as they should be, but no master key to seal the end
        // with.
        var forger = new Audit(harbour.database, trail, new MasterKey(MasterKey.generate()), Clock.systemUTC());
        byte[] sealed = trail.ends(harbour.issuer.id()).orElseThrow();
        harbour.database.update("DELETE FROM audit");
        harbour.database.update("DELETE FROM audit_ends");
        for (int n = 0; n < 5; n++)
            forger.added(CORIN, harbour.issuer.id(), "api.added", "forged", java.util.Map.of("n", n));
        harbour.database.update("UPDATE audit_ends SET sealed = ?", sealed);
        assertThat(proof()).isInstanceOf(Audit.Proof.Broken.class);
    }

    @Test
    void whatIsLetGoOfAfterItsTimeLeavesTheRestProvable() {
        fiveLines();
        assertThat(harbour.audit.forget(Instant.now().minusSeconds(3600))).isZero();
        assertThat(harbour.audit.forget(Instant.now().plusSeconds(1))).isEqualTo(5);
        assertThat(proof()).isEqualTo(new Audit.Proof.Whole(6, 5));
        made(harbour.apis.register(harbour.issuer, api("berths", null), CORIN));
        assertThat(proof()).isEqualTo(new Audit.Proof.Whole(6, 6));
    }

    @Test
    void issuersHaveChainsOfTheirOwn() {
        var gullwing = made(harbour.issuers.create(new IssuerWanted("gullwing", null), CORIN));
        fiveLines();
        harbour.database.update("DELETE FROM audit WHERE issuer_id = ?", harbour.issuer.id());
        assertThat(proof()).isInstanceOf(Audit.Proof.Broken.class);
        assertThat(harbour.audit.verify(gullwing.id(), seq -> {})).isEqualTo(new Audit.Proof.Whole(1, 1));
    }

    @Test
    void anUnwritableLineUndoesItsChange() {
        harbour.database.update("DROP TABLE audit_ends");
        assertThatThrownBy(() -> harbour.apis.register(harbour.issuer, api("berths", null), CORIN))
                .isInstanceOf(StoreFault.class);
        assertThat(new SqliteApis(harbour.database).named(harbour.issuer.id(), "berths"))
                .isEmpty();
    }

    @Test
    void aLineIsJsonWhateverStandsInIt() throws Exception {
        String hostile = "a\"b\\c\nd\u0001\u2028é🦀";
        harbour.audit.added(CORIN, harbour.issuer.id(), "api.added", hostile, java.util.Map.of("name", hostile));
        AuditLine line = lines("api.added").getFirst();
        assertThat(com.nimbusds.jose.util.JSONObjectUtils.parse(line.text())).containsEntry("on", hostile);
        assertThat(com.nimbusds.jose.util.JSONObjectUtils.parse(line.after())).containsEntry("name", hostile);
        assertThat(proof()).isInstanceOf(Audit.Proof.Whole.class);
    }
}
