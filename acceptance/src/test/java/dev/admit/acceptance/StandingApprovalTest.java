package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.api.parallel.ResourceLock;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import tools.jackson.databind.JsonNode;

/** A scope approved ahead: the one who fits has it at once, nobody else does, and nobody makes themselves fit. */
@ResourceLock(Running.DEMO)
class StandingApprovalTest {
    private static Running demo;
    private static Operator operator;
    private static final Map<String, String> TOKENS = new HashMap<>();

    @TempDir
    Path folder;

    @BeforeAll
    static void start() throws Exception {
        demo = Running.demo();
        operator = Operator.of(demo);
        for (String name : List.of("corin", "edda", "isolde", "junia", "nell", "tobias"))
            TOKENS.put(
                    name,
                    Visitor.tokens(demo, "admit-command-line", name, "openid admit:run")
                            .path("access_token")
                            .asString());
        made("POST", "/apis", "{\"name\":\"ahead\"}");
        for (String verb : List.of("tagged", "owned", "machines", "kept", "merged", "filed", "refused", "bare")) {
            added("ahead." + verb);
        }
        made("POST", "/owners", "{\"person\":\"isolde.marrin@saltmarsh.example\",\"api\":\"ahead\"}");
        standing("ahead.tagged", "{\"tags\":[\"night-watch\"]}");
    }

    /** Others count what isolde answers for. */
    @AfterAll
    static void release() throws Exception {
        made("DELETE", "/owners?person=isolde.marrin@saltmarsh.example&api=ahead", null);
    }

    private static Wire.Answer as(String who, String method, String path, String body) throws Exception {
        Map<String, String> headers = new HashMap<>(Map.of("If-Match", "*"));
        if (!who.equals("stranger")) headers.put("Authorization", "Bearer " + TOKENS.get(who));
        if (body != null) headers.put("Content-Type", "application/json");
        return Wire.send(method, demo.ready().path("admin_api").asString() + "/issuers/harbour" + path, headers, body);
    }

    private static JsonNode made(String method, String path, String body) throws Exception {
        Wire.Answer answer = operator.harbour(method, path, body);
        assertThat(answer.status()).as(answer.body()).isBetween(200, 299);
        return answer.json();
    }

    private static void added(String scope) throws Exception {
        made(
                "POST",
                "/apis/ahead/scopes",
                ("{\"name\":\"%s\",\"effect\":\"reads\",\"reach\":\"everyone\",\"for\":\"both\","
                                + "\"approver\":\"administrator\"}")
                        .formatted(scope));
    }

    private static JsonNode standing(String scope, String whom) throws Exception {
        return made("PATCH", "/apis/ahead/scopes/" + scope, "{\"standing_approval\":" + whom + "}");
    }

    private static JsonNode scope(String name) throws Exception {
        return operator.harbour("GET", "/apis/ahead/scopes/" + name, null).json();
    }

    private static JsonNode asked(String client, String scope) throws Exception {
        return made("POST", "/approvals", "{\"client\":\"%s\",\"scope\":\"%s\"}".formatted(client, scope))
                .path("now");
    }

    @Test
    void whoeverFitsHasTheScopeAtOnce() throws Exception {
        JsonNode client = made(
                "POST",
                "/clients",
                "{\"name\":\"ahead-watch\",\"tags\":[\"night-watch\"],\"scopes\":[\"ahead.tagged\"]}");
        JsonNode approval = client.path("now").path("scopes").get(0);
        assertThat(approval.path("status").asString()).isEqualTo("granted");
        assertThat(approval.path("by_standing_approval").asBoolean()).isTrue();
        JsonNode credential = Running.JSON.valueToTree(Map.of(
                "client_id",
                client.path("now").path("client_id").asString(),
                "client_secret",
                client.path("secret").path("secret").asString()));
        assertThat(Wire.form(
                                demo.server() + "/harbour/token",
                                Wire.basic(credential),
                                "grant_type=client_credentials&scope=ahead.tagged")
                        .json()
                        .path("scope")
                        .asString())
                .isEqualTo("ahead.tagged");
        assertThat(demo.admit("approval", "list", "--client", "ahead-watch").out())
                .contains("ahead,");
        assertThat(operator.get("/issuers/harbour/audit?limit=20").body()).contains("approval.granted-ahead");

        made("POST", "/clients", "{\"name\":\"ahead-day\",\"tags\":[\"day-watch\"]}");
        assertThat(asked("ahead-day", "ahead.tagged").path("status").asString()).isEqualTo("waiting");
        made("PATCH", "/clients/ahead-day", "{\"tags\":[\"night-watch\"]}");
        assertThat(asked("ahead-day", "ahead.tagged").path("status").asString())
                .as("asked again, it fits")
                .isEqualTo("granted");
    }

    @Test
    void eachListHasToHold() throws Exception {
        standing("ahead.machines", "{\"kinds\":[\"machine\",\"web\"],\"tags\":[\"inner\"]}");
        made("POST", "/clients", "{\"name\":\"ahead-inner\",\"tags\":[\"inner\"]}");
        made("POST", "/clients", "{\"name\":\"ahead-outer\"}");
        made(
                "POST",
                "/clients",
                "{\"name\":\"ahead-page\","
                        + "\"kind\":\"browser\",\"tags\":[\"inner\"],\"redirect_uris\":[\"https://page.saltmarsh.exa"
                        + "mple/back\"]}");
        assertThat(asked("ahead-inner", "ahead.machines").path("status").asString())
                .isEqualTo("granted");
        assertThat(asked("ahead-outer", "ahead.machines").path("status").asString())
                .isEqualTo("waiting");
        assertThat(asked("ahead-page", "ahead.machines").path("status").asString())
                .isEqualTo("waiting");
    }

    @Test
    void anOwnerIsOneWhomAnAdministratorNamed() throws Exception {
        standing("ahead.owned", "{\"owners\":[\"junia.hale@saltmarsh.example\"]}");
        made("POST", "/clients", "{\"name\":\"ahead-juniper\"}");
        assertThat(asked("ahead-juniper", "ahead.owned").path("status").asString())
                .isEqualTo("waiting");
        assertThat(as("junia", "POST", "/approvals", "{\"client\":\"quayside-board\",\"scope\":\"ahead.owned\"}")
                        .json()
                        .path("now")
                        .path("status")
                        .asString())
                .isEqualTo("granted");
        Wire.Answer removed = as(
                "corin", "DELETE", "/people/junia.hale@saltmarsh.example?confirm=junia.hale@saltmarsh.example", null);
        assertThat(removed.status()).isEqualTo(409);
        assertThat(removed.body()).contains("ahead.owned");
    }

    @ParameterizedTest(name = "{0}: {3}")
    @CsvSource(delimiter = '|', nullValues = "-", textBlock = """
            stranger | PATCH | /apis/ahead/scopes/ahead.bare | {"standing_approval":{"kinds":["machine"]}} | 401
            tobias   | PATCH | /apis/ahead/scopes/ahead.bare | {"standing_approval":{"kinds":["machine"]}} | 403
            nell     | PATCH | /apis/ahead/scopes/ahead.bare | {"standing_approval":{"kinds":["machine"]}} | 403
            junia    | PATCH | /apis/ahead/scopes/ahead.bare | {"standing_approval":{"kinds":["machine"]}} | 403
            edda     | PATCH | /apis/ahead/scopes/ahead.bare | {"standing_approval":{"kinds":["machine"]}} | 403
            edda     | PATCH | /apis/ahead/scopes/ahead.tagged | \
            {"standing_approval":{"kinds":["machine"],"tags":[]}} | 403
            edda     | PATCH | /apis/ahead/scopes/ahead.tagged | \
            {"standing_approval":{"tags":["night-watch","day-watch"]}} | 403
            edda     | POST  | /apis/ahead/scopes | \
            {"name":"ahead.edda","effect":"reads","reach":"everyone","for":"clients",\
            "standing_approval":{"kinds":["machine"]}} | 403
            edda     | POST  | /clients | {"name":"ahead-edda","tags":["night-watch"]} | 403
            edda     | POST  | /clients/ahead-copied/copy | {"name":"ahead-copy"} | 403
            edda     | PATCH | /clients/night-audit | {"tags":["night-watch"]} | 403
            junia    | PATCH | /clients/quayside-board | {"tags":["night-watch"]} | 403
            tobias   | GET   | /approvals/standing | - | 403
            stranger | GET   | /approvals/standing | - | 401
            nell     | GET   | /approvals/standing | - | 200
            isolde   | PATCH | /apis/ahead/scopes/ahead.bare | {"standing_approval":{"kinds":["machine"]}} | 200
            isolde   | PATCH | /apis/ahead/scopes/ahead.bare | {"standing_approval":null} | 200
            corin    | PATCH | /apis/ahead/scopes/ahead.bare | {"standing_approval":{"kinds":["machine"]}} | 200
            edda     | PATCH | /apis/ahead/scopes/ahead.bare | {"standing_approval":null} | 200""")
    void onlyWhoMayGrantGivesAheadAndNobodyMakesThemselvesFit(
            String who, String method, String path, String body, int status) throws Exception {
        if (path.contains("ahead-copied")
                && operator.harbour("GET", "/clients/ahead-copied", null).status() == 404)
            made("POST", "/clients", "{\"name\":\"ahead-copied\",\"tags\":[\"night-watch\"]}");
        Wire.Answer answer = as(who, method, path, body);
        assertThat(answer.status()).as(answer.body()).isEqualTo(status);
    }

    @Test
    void ownersSeeWhatIsOfTheirApisAlone() throws Exception {
        assertThat(as("isolde", "GET", "/approvals/standing", null).body()).contains("ahead.tagged");
        assertThat(as("junia", "GET", "/approvals/standing", null).json().path("items"))
                .isEmpty();
    }

    @Test
    void nothingThatRunsAdmitIsApprovedAhead() throws Exception {
        Wire.Answer answer = operator.send(
                "PATCH",
                "/issuers/admit/apis/admin/scopes/admin.read",
                "*",
                "{\"standing_approval\":{\"kinds\":[\"machine\"]}}");
        assertThat(answer.status()).as(answer.body()).isBetween(400, 409);
        assertThat(operator.get("/issuers/admit/approvals/standing").json().path("items"))
                .isEmpty();
    }

    /** Whom the API's owner refused does not come back by taking the request off and making it anew. */
    @Test
    void aNoStays() throws Exception {
        standing("ahead.refused", "{\"kinds\":[\"browser\"]}");
        made("PATCH", "/apis/ahead/scopes/ahead.refused", "{\"standing_approval\":null}");
        String id = as("junia", "POST", "/approvals", "{\"client\":\"quayside-board\",\"scope\":\"ahead.refused\"}")
                .json()
                .path("now")
                .path("id")
                .asString();
        assertThat(as("isolde", "POST", "/approvals/" + id + "/decline", "{\"reason\":\"not a page\"}")
                        .status())
                .isEqualTo(200);
        standing("ahead.refused", "{\"kinds\":[\"browser\"]}");
        assertThat(as("junia", "POST", "/approvals", "{\"client\":\"quayside-board\",\"scope\":\"ahead.refused\"}")
                        .json()
                        .path("now")
                        .path("status")
                        .asString())
                .isEqualTo("waiting");
        assertThat(as("isolde", "POST", "/approvals/" + id + "/decline", "{}").status())
                .isEqualTo(200);
        Wire.Answer dropped = as("junia", "DELETE", "/approvals/" + id, null);
        assertThat(dropped.status()).as(dropped.body()).isEqualTo(409);
        assertThat(dropped.body()).contains("Ask an administrator");
    }

    /** However often it is requested, the one who said no. */
    @ParameterizedTest
    @ValueSource(strings = {"isolde", "corin"})
    void aNoOutlivesAskingTwice(String decliner) throws Exception {
        String scope = "ahead.twice-" + decliner;
        added(scope);
        String request = "{\"client\":\"quayside-board\",\"scope\":\"%s\"}".formatted(scope);
        String id = as("junia", "POST", "/approvals", request)
                .json()
                .path("now")
                .path("id")
                .asString();
        assertThat(as(decliner, "POST", "/approvals/" + id + "/decline", "{}").status())
                .isEqualTo(200);
        standing(scope, "{\"kinds\":[\"browser\"]}");
        for (int again = 0; again < 3; again++) {
            Wire.Answer asked = as("junia", "POST", "/approvals", request);
            assertThat(asked.json().path("now").path("status").asString())
                    .as(asked.body())
                    .isEqualTo("waiting");
        }
        assertThat(as("junia", "DELETE", "/approvals/" + id, null).status())
                .as("nor by taking it off while it waits again")
                .isEqualTo(409);
        as("junia", "PATCH", "/clients/quayside-board", "{\"kind\":\"native\"}");
        assertThat(as("junia", "DELETE", "/approvals/" + id, null).status())
                .as("nor by not fitting for a moment")
                .isEqualTo(409);
        as("junia", "PATCH", "/clients/quayside-board", "{\"kind\":\"browser\"}");
    }

    /** A yes with an end is not turned into one without by taking it off and asking again. */
    @Test
    void anEndStays() throws Exception {
        added("ahead.ended");
        made(
                "POST",
                "/approvals/grant",
                "{\"client\":\"quayside-board\",\"scopes\":[\"ahead.ended\"],\"until\":\"1d\"}");
        standing("ahead.ended", "{\"kinds\":[\"browser\"]}");
        String id = operator.harbour("GET", "/approvals?client=quayside-board&scope=ahead.ended", null)
                .json()
                .path("items")
                .get(0)
                .path("id")
                .asString();
        assertThat(as("junia", "DELETE", "/approvals/" + id, null).status()).isEqualTo(409);
    }

    /** The one who registers clients may have put the tag on one beforehand. */
    @Test
    void whoCarriesATagAlreadyIsSaid() throws Exception {
        added("ahead.before");
        assertThat(as("edda", "POST", "/clients", "{\"name\":\"ahead-early\",\"tags\":[\"early\"]}")
                        .status())
                .isEqualTo(201);
        assertThat(standing("ahead.before", "{\"tags\":[\"early\"]}")
                        .path("notes")
                        .toString())
                .contains("already: ahead-early.");
        standing("ahead.before", "null");
        Wire.Answer byOwner = as(
                "isolde", "PATCH", "/apis/ahead/scopes/ahead.before", "{\"standing_approval\":{\"tags\":[\"early\"]}}");
        assertThat(byOwner.body()).contains("already: 1.").doesNotContain("ahead-early");
    }

    /** What a file says waits is answered by people. */
    @Test
    void whatASetupFileLetsWaitGoesOnWaiting() throws Exception {
        added("ahead.waits");
        standing("ahead.waits", "{\"kinds\":[\"machine\"]}");
        Path file = Files.writeString(
                folder.resolve("waits.yaml"),
                "issuer: harbour\nclients:\n  ahead-waits:\n    scopes:\n      ahead.waits: waiting\n");
        assertThat(demo.admit("setup", "load", file.toString(), "--confirm", "harbour")
                        .exitCode())
                .isZero();
        assertThat(asked("ahead-waits", "ahead.waits").path("status").asString())
                .isEqualTo("waiting");
    }

    /** Owners of APIs see ids of people in decisions, and learn no address by them. */
    @Test
    void onlyAdministratorsNamePeople() throws Exception {
        String id = operator.harbour("GET", "/people/ama.keld@saltmarsh.example", null)
                .json()
                .path("id")
                .asString();
        added("ahead.people");
        for (String named : List.of(id, "ama.keld@saltmarsh.example", "nobody@saltmarsh.example")) {
            String body = "{\"standing_approval\":{\"owners\":[\"%s\"]}}".formatted(named);
            Wire.Answer answer = as("isolde", "PATCH", "/apis/ahead/scopes/ahead.people", body);
            assertThat(answer.status()).as(answer.body()).isEqualTo(403);
            assertThat(answer.body()).doesNotContain("ama.keld");
        }
        standing("ahead.people", "{\"owners\":[\"ama.keld@saltmarsh.example\"]}");
        assertThat(as("isolde", "PATCH", "/apis/ahead/scopes/ahead.people", "{\"standing_approval\":null}")
                        .status())
                .as("taking it away gives nothing")
                .isEqualTo(200);
    }

    @Test
    void aChangeKeepsTheListsThatItDoesNotName() throws Exception {
        standing("ahead.merged", "{\"kinds\":[\"machine\"],\"tags\":[\"inner\"]}");
        standing("ahead.merged", "{\"tags\":[\"inner\",\"outer\"]}");
        assertThat(scope("ahead.merged").path("standing_approval").path("kinds").toString())
                .isEqualTo("[\"machine\"]");
        made("PATCH", "/apis/ahead/scopes/ahead.merged", "{\"by_role\":true}");
        assertThat(scope("ahead.merged").path("standing_approval").path("tags").toString())
                .isEqualTo("[\"inner\",\"outer\"]");
        standing("ahead.merged", "{\"tags\":null}");
        assertThat(scope("ahead.merged").path("standing_approval").path("tags")).isEmpty();
        standing("ahead.merged", "{\"kinds\":[]}");
        assertThat(scope("ahead.merged").path("standing_approval").isNull()).isTrue();
        Wire.Answer wrong = operator.harbour(
                "PATCH",
                "/apis/ahead/scopes/ahead.merged",
                "{\"standing_approval\":{"
                        + "\"kinds\":[\"lighthouse\"],\"owners\":[\"nobody@saltmarsh.example\"],\"tags\":[\"Not "
                        + "One\"]}}");
        assertThat(wrong.status()).isEqualTo(422);
        assertThat(wrong.body())
                .contains("/standing_approval/kinds/0")
                .contains("/standing_approval/owners/0")
                .contains("/standing_approval/tags/0");
    }

    @Test
    void theCommandLineSetsChangesAndEndsIt() throws Exception {
        assertThat(demo.admit(
                                "scope",
                                "change",
                                "ahead",
                                "ahead.kept",
                                "--standing-kind",
                                "machine",
                                "--standing-tag",
                                "kept")
                        .out())
                .contains("as soon as it requests it");
        assertThat(demo.admit("client", "add", "ahead-keeper", "--tag", "kept", "--scope", "ahead.kept")
                        .all())
                .contains("it has ahead.kept");
        assertThat(demo.admit("scope", "change", "ahead", "ahead.kept", "--add-standing-tag", "spare")
                        .exitCode())
                .isZero();
        assertThat(demo.admit("approval", "standing").out())
                .contains("clients of kind machine with the tag kept or spare")
                .contains("1 have it by this");
        assertThat(demo.admit(
                                "scope",
                                "change",
                                "ahead",
                                "ahead.kept",
                                "--no-standing-approval",
                                "--standing-tag",
                                "kept")
                        .exitCode())
                .isEqualTo(2);
        Running.Said ended = demo.admit("scope", "change", "ahead", "ahead.kept", "--no-standing-approval");
        assertThat(ended.out()).contains("stays given; clients that have it: 1");
        assertThat(demo.admit("approval", "list", "--client", "ahead-keeper").out())
                .contains("granted");
    }

    @Test
    void theSetupFileSaysIt() throws Exception {
        standing("ahead.filed", "{\"kinds\":[\"machine\"],\"owners\":[\"isolde.marrin@saltmarsh.example\"]}");
        String file = demo.admit("setup", "export", "--api", "ahead").out();
        assertThat(file).contains("standing_approval:").contains("isolde.marrin@saltmarsh.example");
        Path same = Files.writeString(folder.resolve("same.yaml"), file);
        assertThat(demo.admit("setup", "compare", same.toString()).all()).contains("Nothing would change");
        Path other = Files.writeString(
                folder.resolve("other.yaml"),
                "issuer: harbour\napis:\n  ahead:\n    scopes:\n      ahead.filed:\n        standing_approval:\n    "
                        + "      owners: []\n          tags: [filed]\n");
        assertThat(demo.admit("setup", "compare", other.toString()).out())
                .as("people by name")
                .contains("[isolde.marrin@saltmarsh.example]")
                .doesNotContain("pe_");
        assertThat(demo.admit("setup", "load", other.toString(), "--confirm", "harbour")
                        .exitCode())
                .isZero();
        assertThat(scope("ahead.filed").path("standing_approval").path("owners"))
                .isEmpty();
        assertThat(scope("ahead.filed")
                        .path("standing_approval")
                        .path("kinds")
                        .get(0)
                        .asString())
                .isEqualTo("machine");
        assertThat(scope("ahead.filed")
                        .path("standing_approval")
                        .path("tags")
                        .get(0)
                        .asString())
                .isEqualTo("filed");
    }
}
