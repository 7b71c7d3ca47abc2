package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.security.MessageDigest;
import java.util.HexFormat;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.parallel.ResourceLock;
import tools.jackson.databind.JsonNode;

/** Who changed what, and every token issued, read over HTTP and by the command line. */
@ResourceLock(Running.DEMO)
class AuditTrailTest {
    private static Running demo;
    private static Operator operator;

    @BeforeAll
    static void start() throws Exception {
        demo = Running.demo();
        operator = Operator.of(demo);
    }

    @Test
    void aChangeShowsWithItsActorAddressAndDifference() throws Exception {
        operator.harbour("POST", "/clients", "{\"name\":\"audited-caller\",\"contacts\":[\"Corin Ashby\"]}");
        operator.harbour("PATCH", "/clients/audited-caller", "{\"contacts\":[\"Isolde Marrin\"]}");
        JsonNode line = operator.harbour("GET", "/audit?what=client.changed&on=audited-caller", null)
                .json()
                .path("items")
                .get(0);
        assertThat(line.path("who").asString()).isEqualTo("operator");
        assertThat(line.path("from").asString()).isEqualTo("127.0.0.1");
        assertThat(line.path("before").asString()).contains("Corin Ashby").doesNotContain("created_at");
        assertThat(line.path("after").asString()).contains("Isolde Marrin");
        assertThat(operator.harbour("GET", "/audit?on=audited-caller&who=nobody", null)
                        .json()
                        .path("items")
                        .size())
                .isZero();
        assertThat(operator.harbour("GET", "/audit?since=yesterday", null)
                        .json()
                        .path("faults")
                        .get(0)
                        .path("pointer")
                        .asString())
                .isEqualTo("/since");
    }

    @Test
    void anIssuedTokenShowsByItsIdAndNeverWhole() throws Exception {
        String token = Wire.token(demo, "tide-buoy-07", "&scope=tides.read");
        String claims = new String(java.util.Base64.getUrlDecoder().decode(token.split("\\.")[1]));
        String id = Running.JSON.readTree(claims).path("jti").asString();
        String issued = operator.harbour("GET", "/audit?what=token.issued&limit=200", null)
                .body();
        assertThat(issued).contains(id, "tides.read").doesNotContain(token.split("\\.")[2]);
    }

    @Test
    void theExportCanBeProvedByAnyoneWithoutAdmit() throws Exception {
        String before = "0".repeat(64);
        for (String line : demo.admit("audit", "export").out().strip().split("\n")) {
            int cut = line.lastIndexOf(",\"hash\":\"");
            MessageDigest digest = MessageDigest.getInstance("SHA-256");
            digest.update(before.getBytes());
            String computed = HexFormat.of().formatHex(digest.digest((line.substring(0, cut) + "}").getBytes()));
            assertThat(line).endsWith(",\"hash\":\"" + computed + "\"}");
            before = computed;
        }
    }

    @Test
    void theCommandLineListsAndVerifies() throws Exception {
        Running.Said listed = demo.admit("audit", "list", "--what", "approval.granted", "--limit", "500");
        assertThat(listed.out()).contains("tide-buoy-07 tides.read").contains("Corin Ashby");
        Running.Said verified = demo.admit("audit", "check");
        assertThat(verified.exitCode()).isZero();
        assertThat(verified.out()).contains("are whole");
    }

    @Test
    void anIssuerSeesNothingOfAnothers() throws Exception {
        assertThat(operator.get("/issuers/gullwing/audit").body())
                .doesNotContain("tide-buoy-07")
                .contains("issuer.added");
    }
}
