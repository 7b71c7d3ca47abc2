package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.api.parallel.ResourceLock;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.JsonNode;

/** Setup files: an issuer as one file, compared, loaded altogether or not at all, staged, taken apart. */
@ResourceLock(Running.DEMO)
class SetupFileTest {
    private static Running demo;
    private static Operator operator;

    @TempDir
    Path folder;

    @BeforeAll
    static void start() throws Exception {
        demo = Running.demo();
        operator = Operator.of(demo);
    }

    private static final String QUAY = """
            issuer: %s
            title: South quay
            settings:
              domains: [%s.example]
            apis:
              %s-cranes:
                audience: https://cranes.%s.example
                upstream: http://127.0.0.1:9499
                minting:
                  lifetime: 5m
                  claims: {tags: client.tags}
                  exceptions:
                    night: {tags: [night], lifetime: 1m}
                scopes:
                  %s-cranes.lift: {effect: changes, reach: everyone, for: clients, consequence: Lift whatever hangs on \
            the hook.}
            routes:
              - route: POST /at-%s/cranes/{crane}/lift
                api: %s-cranes
                scopes: [%s-cranes.lift]
            clients:
              hoist:
                contacts: [Edda Lorne]
                tags: [night]
                scopes: {%s-cranes.lift: granted}
              board:
                kind: browser
                redirect_uris: ["https://board.%s.example/back"]
                enabled: false
            """;

    private static String quay(String name) {
        return QUAY.replace("%s", name);
    }

    private static Wire.Answer send(String what, String file, String more) throws Exception {
        return operator.post(
                "/setup/" + what, "{\"file\":%s%s}".formatted(Running.JSON.writeValueAsString(file), more));
    }

    @Test
    void aFileIsShownLoadedAndThenChangesNothing() throws Exception {
        String file = quay("quay-a");
        JsonNode would = send("compare", file, "").json();
        assertThat(would.path("loaded").asBoolean(true)).isFalse();
        assertThat(would.path("steps").toString())
                .contains(
                        "issuer quay-a",
                        "API quay-a-cranes",
                        "scope quay-a-cranes.lift",
                        "route POST /at-quay-a/cranes/{crane}/lift",
                        "client hoist",
                        "approval of quay-a-cranes.lift for hoist");
        assertThat(operator.get("/issuers/quay-a").status())
                .as("nothing is there yet")
                .isEqualTo(404);
        JsonNode loaded = send("load", file, "").json();
        JsonNode secret = loaded.path("made").path("hoist");
        assertThat(secret.path("secret").asString()).startsWith("admsec_");
        JsonNode token = Wire.form(
                        demo.server() + "/quay-a/token",
                        secret.path("authorization").asString(),
                        "grant_type=client_credentials&scope=quay-a-cranes.lift")
                .json();
        assertThat(token.path("expires_in").asInt())
                .as("by the exception night")
                .isEqualTo(60);
        assertThat(operator.get("/issuers/quay-a/clients/board")
                        .json()
                        .path("enabled")
                        .asBoolean(true))
                .isFalse();
        long version = operator.get("/issuers/quay-a").json().path("version").asLong();
        int audited = operator.get("/issuers/quay-a/audit?limit=200")
                .json()
                .path("items")
                .size();
        JsonNode again = send("load", file, "").json();
        assertThat(again.path("steps").size()).as(again.toString()).isZero();
        assertThat(operator.get("/issuers/quay-a").json().path("version").asLong())
                .isEqualTo(version);
        assertThat(operator.get("/issuers/quay-a/audit?limit=200")
                        .json()
                        .path("items")
                        .size())
                .isEqualTo(audited);
    }

    @Test
    void whatIsExportedLoadsToTheSame() throws Exception {
        send("load", quay("quay-b"), "");
        String exported = operator.get("/issuers/quay-b/setup").body();
        assertThat(exported)
                .contains("issuer: quay-b")
                .contains("consequence: Lift whatever hangs on the hook.")
                .doesNotContain("admsec_")
                .doesNotContain("hash");
        assertThat(send("compare", exported, "").json().path("steps").size()).isZero();
        String elsewhere = exported.replace("quay-b", "quay-c");
        assertThat(send("load", elsewhere, "").status()).isEqualTo(200);
        assertThat(operator.get("/issuers/quay-c/setup").body().replaceAll("# .*", ""))
                .isEqualTo(elsewhere.replaceAll("# .*", ""));
        String harbour = demo.admit("setup", "export").out();
        assertThat(send("compare", harbour, "").json().path("steps").size())
                .as("the harbour's own file")
                .isZero();
        assertThat(demo.admit("setup", "export", "--api", "tides").out())
                .contains("route: GET /tides/**")
                .doesNotContain("berths")
                .doesNotContain("clients:");
        assertThat(demo.admit("setup", "export", "--client", "customs-sync").out())
                .contains("jwks_uri")
                .contains("manifests.inspect: granted")
                .doesNotContain("apis:");
    }

    @Test
    void aFileThatFailsHalfwayChangesNothing() throws Exception {
        send("load", quay("quay-d"), "");
        String before = operator.get("/issuers/quay-d/setup").body().replaceAll("# .*", "");
        String broken = quay("quay-d")
                .replace("title: South quay", "title: North quay")
                .replace("enabled: false", "kind: robot\n    enabled: true".replace("kind: robot\n    ", ""))
                .replace("https://board.quay-d.example/back", "javascript:alert(1)");
        Wire.Answer refused = send("load", broken, "");
        assertThat(refused.status()).isEqualTo(422);
        assertThat(refused.json().path("faults").get(0).path("pointer").asString())
                .isEqualTo("/clients/board/redirect_uris/0");
        assertThat(refused.json().path("faults").get(0).path("received").asString())
                .contains("at line 27");
        assertThat(operator.get("/issuers/quay-d/setup").body().replaceAll("# .*", ""))
                .isEqualTo(before);
        assertThat(operator.get("/issuers/quay-d").json().path("title").asString())
                .isEqualTo("South quay");
    }

    @Test
    void aWithdrawnThingEndsTokensThroughTheFileToo() throws Exception {
        JsonNode loaded = send(
                        "load",
                        quay("quay-e")
                                .replace("upstream: http://127.0.0.1:9499\n", "\n")
                                .replace(
                                        "scopes: [quay-e-cranes.lift]\n",
                                        "scopes: [quay-e-cranes.lift]\n    fixed_response: {body: up}\n"),
                        "")
                .json();
        String token = Wire.form(
                        demo.server() + "/quay-e/token",
                        loaded.path("made").path("hoist").path("authorization").asString(),
                        "grant_type=client_credentials&scope=quay-e-cranes.lift")
                .json()
                .path("access_token")
                .asString();
        assertThat(Wire.call("POST", demo.gateway() + "/at-quay-e/cranes/1/lift", token)
                        .status())
                .isEqualTo(200);
        String without = "issuer: quay-e\nclients: {board: {}}\napis: {quay-e-cranes: {scopes: {quay-e-cranes.lift: "
                + "{}}}}\nroutes:\n  - {route: 'POST /at-quay-e/cranes/{crane}/lift', api: quay-e-cranes, "
                + "scopes: [quay-e-cranes.lift], fixed_response: {body: up}}\n";
        assertThat(send("compare", without, "").json().path("steps").size())
                .as("what is not in the file stays")
                .isZero();
        JsonNode gone = send("load", without, ",\"remove_unlisted\":true").json();
        assertThat(gone.path("steps").toString()).contains("removed").contains("client hoist");
        assertThat(Wire.call("POST", demo.gateway() + "/at-quay-e/cranes/1/lift", token)
                        .json()
                        .path("reason")
                        .asString())
                .isEqualTo("revoked");
    }

    @ParameterizedTest(name = "{0}")
    @CsvSource(
            delimiter = '|',
            value = {
                "title: South quay | titel: South quay | /titel | line 2, column",
                "consequence: Lift | consequences: Lift | /apis/q-cranes/scopes/q-cranes.lift/consequences | "
                        + "line 15, column",
                "lifetime: 5m | lifetime: forever | /apis/q-cranes/minting/lifetime | at line 10, column 7",
                "effect: changes | effect: ruins | /apis/q-cranes/scopes/q-cranes.lift/effect | at line 15",
                "kind: browser | kind: [browser] | /clients/board/kind | line 26",
                "scopes: {q-cranes.lift: granted} | scopes: {q-cranes.lower: granted} | "
                        + "/clients/hoist/scopes/q-cranes.lower "
                        + "| at line 24",
                "scopes: {q-cranes.lift: granted} | scopes: {q-cranes.lift: maybe} | "
                        + "/clients/hoist/scopes/q-cranes.lift | "
                        + "at line 24",
                "route: POST /at-q/cranes/{crane}/lift | route: POST to /q/cranes | /routes/0/route | at line 17",
                "route: POST /at-q/cranes/{crane}/lift | route: POST | /routes/0/path | at line 17",
                "route: POST /at-q/cranes/{crane}/lift | route: GET /tides/** | /routes/0/path | a route of another "
                        + "issuer",
                "audience: https://cranes.q.example | audience: https://cranes.example | /apis/q-cranes/audience | "
                        + "at line 7",
                "issuer: q | isuer: q | /isuer | line 1",
                "title: South quay | title: 'South | / | line",
                "title: South quay | issuer: q | / | line 2",
                "domains: [q.example] | domains: quay | /settings/domains | line 4"
            })
    void eachMistakeIsNamedWithItsPlace(String right, String wrong, String pointer, String place) throws Exception {
        Wire.Answer answer = send("load", quay("q").replace(right, wrong), "");
        assertThat(answer.status()).as(answer.body()).isEqualTo(422);
        JsonNode fault = answer.json().path("faults").get(0);
        assertThat(fault.path("pointer").asString()).as(answer.body()).isEqualTo(pointer);
        assertThat(fault.path("received").asString()).contains(place);
        assertThat(operator.get("/issuers/q").status()).isEqualTo(404);
    }

    @Test
    void aStageBringsAddressesAndLimitsAndNothingElse() throws Exception {
        String stage = "apis: {quay-f-cranes: {upstream: 'http://127.0.0.1:9498', minting: {lifetime: 2m}}}\nclients: "
                + "{board: {redirect_uris: ['https://live.quay.example/back']}}\n";
        JsonNode loaded = send("load", quay("quay-f"), ",\"stage\":" + Running.JSON.writeValueAsString(stage))
                .json();
        assertThat(loaded.path("loaded").asBoolean(false)).as(loaded.toString()).isTrue();
        assertThat(operator.get("/issuers/quay-f/apis/quay-f-cranes")
                        .json()
                        .path("upstream")
                        .asString())
                .isEqualTo("http://127.0.0.1:9498");
        assertThat(operator.get("/issuers/quay-f/clients/board")
                        .json()
                        .path("redirect_uris")
                        .get(0)
                        .asString())
                .isEqualTo("https://live.quay.example/back");
        for (String wrong : new String[] {
            "clients: {hoist: {scopes: {quay-f-cranes.lift: waiting}}}",
            "apis: {quay-f-crane: {upstream: 'http://127.0.0.1:1'}}",
            "clients: {hoist: {kind: web}}"
        }) {
            Wire.Answer refused = send("load", quay("quay-f"), ",\"stage\":" + Running.JSON.writeValueAsString(wrong));
            assertThat(refused.status()).as(wrong).isEqualTo(422);
            assertThat(refused.body()).contains("of the stage").contains("line 1");
        }
    }

    @Test
    void secretsComeFromWhereTheFileSaysAndAreNeverInIt() throws Exception {
        Path file = Files.writeString(
                folder.resolve("quay.yaml"),
                quay("quay-g")
                        .replace(
                                "    tags: [night]\n",
                                "    tags: [night]\n    secret: {from_env: HOIST_SECRET, lifetime: 20d}\n"));
        assertThat(demo.admit("setup", "load", file.toString()).err())
                .contains("The secret of hoist is to come from HOIST_SECRET, which is empty");
        String secret = "a-secret-made-elsewhere-with-256-random-bits-0123456789";
        Running.Said shown = demo.admit("", Map.of("HOIST_SECRET", secret), "setup", "load", file.toString());
        assertThat(shown.exitCode()).as("shown first, not loaded").isEqualTo(1);
        assertThat(shown.out())
                .contains("+ client hoist")
                .contains("Nothing is changed yet.")
                .contains("--confirm quay-g");
        assertThat(demo.admit(
                                "",
                                Map.of("HOIST_SECRET", secret),
                                "setup",
                                "load",
                                file.toString(),
                                "--confirm",
                                "quay-g")
                        .exitCode())
                .isZero();
        JsonNode hoist = operator.get("/issuers/quay-g/clients/hoist").json();
        assertThat(hoist.path("secrets").size()).isEqualTo(1);
        assertThat(Wire.form(
                                demo.server() + "/quay-g/token",
                                Wire.basic(Running.JSON.readTree("{\"client_id\":\"%s\",\"client_secret\":\"%s\"}"
                                        .formatted(hoist.path("client_id").asString(), secret))),
                                "grant_type=client_credentials&scope=quay-g-cranes.lift")
                        .status())
                .isEqualTo(200);
        assertThat(demo.admit("", Map.of("HOIST_SECRET", secret), "setup", "load", file.toString())
                        .out())
                .contains("Nothing changes");
        assertThat(operator.get("/issuers/quay-g/setup").body()).doesNotContain(secret);
        assertThat(demo.admit("", Map.of("HOIST_SECRET", "short"), "setup", "compare", file.toString())
                        .err())
                .contains("clients/hoist/secret")
                .doesNotContain("'short'");
    }

    @Test
    void theOperatorsOwnIssuerIsNotLoadedOver() throws Exception {
        assertThat(send("load", "issuer: admit\ntitle: mine\n", "")
                        .json()
                        .path("reason")
                        .asString())
                .isEqualTo("lockout");
    }

    @Test
    void theSchemaKnowsEveryMemberOfTheHarboursFile() throws Exception {
        JsonNode schema = demo.admit("setup", "schema").json();
        assertThat(schema.path("properties")
                        .path("clients")
                        .path("additionalProperties")
                        .path("properties")
                        .path("kind")
                        .path("enum")
                        .toString())
                .contains("browser");
        assertThat(schema.path("additionalProperties").asBoolean(true)).isFalse();
        assertThat(schema.path("required").get(0).asString()).isEqualTo("issuer");
    }
}
