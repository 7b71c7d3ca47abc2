package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.attribute.PosixFilePermissions;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.parallel.ResourceLock;
import tools.jackson.databind.JsonNode;

/** The five lines that the demo prints give what it says beside them; and what they rest on is there. */
@ResourceLock(Running.DEMO)
class FirstCallTest {
    private static Running demo;

    @BeforeAll
    static void start() throws Exception {
        demo = Running.demo();
    }

    private static Running.Said line(int number) throws Exception {
        String command = demo.said()
                .lines()
                .filter(line -> line.strip().startsWith("./admit call"))
                .skip(number - 1)
                .findFirst()
                .orElseThrow();
        String words = command.substring(0, command.indexOf('#')).strip().substring("./admit ".length());
        return demo.admit(words.split(" +"));
    }

    @Test
    void theFirstLineIsAdmitted() throws Exception {
        Running.Said said = line(1);
        assertThat(said.out())
                .contains("● admitted  200")
                .contains("north-quay")
                .contains("metres");
        assertThat(said.exitCode()).isZero();
    }

    @Test
    void theSecondHasNoToken() throws Exception {
        Running.Said said = line(2);
        assertThat(said.out())
                .contains("⊟ refused  401")
                .contains("Challenge  Bearer realm=\"tides\"\n")
                .contains("no-token");
        assertThat(said.exitCode()).isEqualTo(1);
    }

    @Test
    void theThirdHasTheWrongScope() throws Exception {
        assertThat(line(3).out())
                .contains("⊟ refused  403")
                .contains("insufficient_scope")
                .contains("scope=\"tides.publish\"");
    }

    @Test
    void theFourthHasTheWrongAudience() throws Exception {
        Running.Said said = line(4);
        assertThat(said.out())
                .contains("⊟ refused  401")
                .contains("invalid_token")
                .contains("https://berths.saltmarsh.example")
                .contains("https://tides.saltmarsh.example");
        String id = said.out()
                .substring(said.out().indexOf("decision show ") + "decision show ".length())
                .strip();
        Running.Said why = demo.admit("decision", "show", id);
        assertThat(why.out())
                .contains("Refused by the check audience (wrong-audience)")
                .contains("expected")
                .contains("fix")
                .contains("● passed   signature");
    }

    @Test
    void theFifthIsNotApproved() throws Exception {
        Running.Said said = line(5);
        assertThat(said.err())
                .contains("scope-not-approved")
                .contains("admit approval grant night-audit manifests.inspect");
        assertThat(said.exitCode()).isEqualTo(1);
    }

    @Test
    void theReadyFileTellsScriptsEverything() throws Exception {
        JsonNode ready = demo.ready();
        assertThat(ready.propertyNames())
                .contains("admin_api", "gateway", "console", "issuers", "operator", "clients", "people", "routes");
        assertThat(Wire.get(ready.path("console").asString()).status()).isEqualTo(200);
        assertThat(ready.path("people").isArray()).isTrue();
        assertThat(ready.path("gateway").asString()).isEqualTo(demo.gateway());
        JsonNode buoy = ready.path("clients").path("tide-buoy-07");
        assertThat(buoy.propertyNames())
                .contains("client_id", "client_secret", "token_endpoint_auth_method", "resource", "scopes");
        assertThat(ready.path("routes").size()).isEqualTo(12);
        assertThat(ready.path("issuers").propertyNames()).contains("harbour", "gullwing");
        assertThat(PosixFilePermissions.toString(Files.getPosixFilePermissions(demo.home.resolveSibling("ready.json"))))
                .isEqualTo("rw-------");
    }

    @Test
    void allThreeBackendsAnswerThroughTheGateway() throws Exception {
        Operator operator = Operator.of(demo);
        assertThat(Wire.call("GET", demo.gateway() + "/berths/n1", Wire.token(demo, "old-crane", "&scope=berths.read"))
                        .json()
                        .path("quay")
                        .asString())
                .isEqualTo("North");
        JsonNode inspector = operator.approvedClient("day-audit", "manifests.inspect");
        String token = Wire.form(
                        demo.server() + "/harbour/token",
                        Wire.basic(inspector),
                        "grant_type=client_credentials&scope=manifests.inspect")
                .json()
                .path("access_token")
                .asString();
        assertThat(Wire.call("GET", demo.gateway() + "/manifests/v-204", token)
                        .json()
                        .path("cargo")
                        .size())
                .isPositive();
        String publish = Wire.token(demo, "tide-buoy-07", "&scope=tides.publish");
        Wire.Answer taken = Wire.send(
                "POST",
                demo.gateway() + "/tides/readings",
                java.util.Map.of("Authorization", "Bearer " + publish),
                "{\"gauge\":\"north-quay\",\"metres\":3.2}");
        assertThat(taken.status()).isEqualTo(201);
        assertThat(Wire.get(demo.gateway() + "/status").json().path("harbour").asString())
                .isEqualTo("open");
    }

    @Test
    void theNeighbourSeesNothing() throws Exception {
        Operator operator = Operator.of(demo);
        assertThat(operator.get("/issuers/gullwing/apis").json().path("items").findValuesAsString("name"))
                .doesNotContain("tides", "berths", "manifests");
        assertThat(operator.get("/issuers/gullwing/apis/tides").status()).isEqualTo(404);
        Wire.Answer refused = Wire.form(
                demo.server() + "/gullwing/token",
                Wire.basic(demo.ready().path("clients").path("tide-buoy-07")),
                "grant_type=client_credentials");
        assertThat(refused.json().path("error").asString()).isEqualTo("invalid_client");
    }
}
