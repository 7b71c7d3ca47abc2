package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.parallel.ResourceLock;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.JsonNode;

/** The admin API: protected by Admit's own tokens, precise about bad input, safe with two editors. */
@ResourceLock(Running.DEMO)
class AdminApiTest {
    private static Running demo;
    private static Operator operator;

    @BeforeAll
    static void start() throws Exception {
        demo = Running.demo();
        operator = Operator.of(demo);
    }

    private static String admin(String path) {
        return demo.ready().path("admin_api").asString() + path;
    }

    @Test
    void onlyTokensOfTheOperatorIssuerOpenIt() throws Exception {
        Wire.Answer none = Wire.get(admin("/issuers"));
        assertThat(none.status()).isEqualTo(401);
        assertThat(none.header("WWW-Authenticate")).isEqualTo("Bearer realm=\"admin\"");
        assertThat(Wire.call("GET", admin("/issuers"), Wire.token(demo, "tide-buoy-07", ""))
                        .json()
                        .path("reason")
                        .asString())
                .isEqualTo("wrong-issuer");
        for (String path : new String[] {"", "/", "/issuers/", "/decisions", "/nowhere"})
            assertThat(Wire.get(admin(path)).status()).as(path).isEqualTo(401);
    }

    @ParameterizedTest
    @CsvSource({
        "/%61dmin/issuers",
        "/admin;x=y/issuers",
        "/admin/issuers;x=y",
        "//admin/issuers",
        "/./admin/issuers",
        "/harbour/../admin/issuers",
        "/admin%2fissuers",
        "/ADMIN/issuers",
        "/admin/openapi.json/../issuers",
        "/admin/openapi.json;/../issuers"
    })
    void noSpellingOfAnAddressGoesAroundTheDoor(String path) throws Exception {
        String answer = Wire.raw(demo.port, "GET %s HTTP/1.1\r\nHost: x\r\nConnection: close\r\n\r\n".formatted(path));
        assertThat(answer).startsWith("HTTP/1.1 4").doesNotContain("\"items\"");
    }

    @Test
    void nobodyLocksThemselvesOut() throws Exception {
        for (String path : new String[] {
            "/issuers/admit/apis/admin?confirm=admin",
            "/issuers/admit/clients/operator?confirm=operator",
            "/issuers/admit/apis/admin/scopes/admin.read?confirm=admin.read"
        }) {
            Wire.Answer refused = operator.send("DELETE", path, null, null);
            assertThat(refused.status()).as(path).isEqualTo(409);
            assertThat(refused.json().path("reason").asString()).isEqualTo("lockout");
        }
        String approval = operator.get("/issuers/admit/clients/operator")
                .json()
                .path("scopes")
                .get(0)
                .path("id")
                .asString();
        assertThat(operator.post("/issuers/admit/approvals/" + approval + "/withdraw", "{}")
                        .status())
                .isEqualTo(409);
        assertThat(operator.send("DELETE", "/issuers/admit/approvals/" + approval, null, null)
                        .status())
                .isEqualTo(409);
        assertThat(operator.get("/issuers").status()).isEqualTo(200);
    }

    @Test
    void theServiceSaysWhereItAndItsGatewayAre() throws Exception {
        JsonNode service = operator.get("").json();
        assertThat(service.path("public_url").asString()).isEqualTo(demo.server());
        assertThat(service.path("gateway").asString()).isEqualTo(demo.gateway());
    }

    @Test
    void readingAndChangingAreTwoPermissions() throws Exception {
        JsonNode ready = demo.ready();
        String token = Wire.form(
                        ready.path("issuers").path("admit").asString() + "/token",
                        Wire.basic(ready.path("operator")),
                        "grant_type=client_credentials&scope=admin.read")
                .json()
                .path("access_token")
                .asString();
        Operator reader = new Operator(ready.path("admin_api").asString(), token);
        assertThat(reader.get("/issuers").status()).isEqualTo(200);
        Wire.Answer refused = reader.post("/issuers", "{\"name\":\"pier\"}");
        assertThat(refused.status()).isEqualTo(403);
        assertThat(refused.header("WWW-Authenticate")).contains("scope=\"admin.change\"");
    }

    @ParameterizedTest(name = "{1}: {2} at {3}")
    @CsvSource(delimiter = '|', textBlock = """
            /apis                    | {"name":"x","audience":"the tides"}                     | 422 | /audience
            /apis                    | {"name":"x","audience":"https://x.example/#a"}          | 422 | /audience
            /apis                    | {"name":"X y"}                                          | 422 | /name
            /apis                    | {}                                                      | 422 | /name
            /apis                    | {"name":"tides"}                                        | 409 | /name
            /apis                    | {"name":"x","audience":"https://tides.saltmarsh.example"} | 409 | /audience
            /apis                    | {"name":"x","upstream":"ftp://x"}                       | 422 | /upstream
            /apis                    | {"name":"x","titel":"y"}                                | 422 | /titel
            /apis                    | {"name":5}                                              | 422 | /name
            /apis                    | {"name":["x"]}                                          | 422 | /name
            /apis                    | {"name":"x","title":"a\\nb"}                            | 422 | /title
            /apis/tides/scopes       | {"name":"tides all","effect":"reads","reach":"own","for":"clients"} | 422 \
            | /name
            /apis/tides/scopes       | {"name":"tides.look","effect":"looks","reach":"own","for":"clients"} | 422 \
            | /effect
            /apis/tides/scopes       | {"name":"tides.read","effect":"reads","reach":"own","for":"clients"} | 409 \
            | /name
            /clients                 | {"name":"x","scopes":["tides.nope"]}                      | 422 | /scopes/0
            /clients                 | {"name":"x","scopes":["berths.book"]}                     | 422 | /scopes/0
            /clients                 | {"name":"x","kind":"robot"}                             | 422 | /kind
            /clients                 | {"name":"x","secret_lifetime":"soon"}                   | 422 | /secret_lifetime
            /clients                 | {"name":"tide-buoy-07"}                                 | 409 | /name
            /approvals               | {"client":"tide-buoy-07","scope":"nope"}                | 422 | /scope
            /routes                  | {"path":"/a//b","open":true,"upstream":"http://127.0.0.1:1"} | 422 | /path
            /routes                  | {"path":"/x","upstream":"http://127.0.0.1:1"}           | 422 | /api
            /routes                  | {"methods":["GET"],"path":"/tides/**","open":true,\
            "upstream":"http://127.0.0.1:1"} | 409 | /path""")
    void eachBadFieldIsPointedTo(String path, String body, int status, String pointer) throws Exception {
        Wire.Answer answer = operator.harbour("POST", path, body);
        assertThat(answer.status()).as(answer.body()).isEqualTo(status);
        assertThat(answer.header("Content-Type")).startsWith("application/problem+json");
        JsonNode fault = answer.json().path("faults").get(0);
        assertThat(fault.path("pointer").asString()).isEqualTo(pointer);
        for (String member : new String[] {"expected", "received", "fix"})
            assertThat(fault.path(member).asString()).as(member).isNotBlank();
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', textBlock = """
            {"name":        | malformed
            []              | invalid
            nonsense        | malformed
            {"name":"a","name":"b"} | malformed
            {"name":"a"} x  | malformed""")
    void whatIsNoJsonObjectIsTold(String body, String reason) throws Exception {
        Wire.Answer answer = operator.harbour("POST", "/apis", body);
        assertThat(answer.status()).isIn(400, 422);
        assertThat(answer.json().path("reason").asString()).isEqualTo(reason);
    }

    @Test
    void ofTwoEditorsTheSecondIsTold() throws Exception {
        operator.harbour("POST", "/apis", "{\"name\":\"edited\",\"upstream\":\"http://127.0.0.1:1\"}");
        String etag = operator.get("/issuers/harbour/apis/edited").header("ETag");
        String path = "/issuers/harbour/apis/edited";
        assertThat(operator.send("PATCH", path, null, "{\"title\":\"a\"}").status())
                .isEqualTo(428);
        assertThat(operator.send("PATCH", path, etag, "{\"title\":\"first\"}").status())
                .isEqualTo(200);
        Wire.Answer second = operator.send("PATCH", path, etag, "{\"title\":\"second\"}");
        assertThat(second.status()).isEqualTo(412);
        assertThat(second.json().path("reason").asString()).isEqualTo("stale");
        assertThat(operator.send("PATCH", path, "\"nonsense\"", "{\"title\":\"x\"}")
                        .status())
                .isEqualTo(412);
        assertThat(operator.get(path).json().path("title").asString()).isEqualTo("first");
        assertThat(operator.send("DELETE", path, etag, null).status()).isEqualTo(412);
        assertThat(operator.send("DELETE", path, null, null).status()).isEqualTo(204);
    }

    @Test
    void removingAnApiInUseWantsTheWord() throws Exception {
        Wire.Answer asked = operator.harbour("DELETE", "/apis/manifests", null);
        assertThat(asked.status()).isEqualTo(409);
        assertThat(asked.json().path("would_break").toString())
                .contains("route GET /manifests/{voyage}")
                .contains("manifests.inspect");
        assertThat(operator.harbour("DELETE", "/apis/manifests?confirm=tides", null)
                        .status())
                .isEqualTo(409);
        assertThat(operator.get("/issuers/harbour/apis/manifests").status()).isEqualTo(200);
    }

    @Test
    void listsPageWithACursor() throws Exception {
        List<String> names = new ArrayList<>();
        String after = "";
        do {
            JsonNode page =
                    operator.get("/issuers/harbour/apis?limit=1" + after).json();
            page.path("items").forEach(item -> names.add(item.path("name").asString()));
            after = page.path("next").isNull()
                    ? null
                    : "&after=" + page.path("next").asString();
        } while (after != null);
        assertThat(names)
                .contains("berths", "manifests", "tides")
                .doesNotHaveDuplicates()
                .isSorted();
        for (String bad : new String[] {"limit=0", "limit=1000", "limit=x", "after=%21%21"})
            assertThat(operator.get("/issuers/harbour/apis?" + bad).status())
                    .as(bad)
                    .isEqualTo(422);
        assertThat(operator.get("/issuers/harbour/approvals?after=bm9uc2Vuc2U").status())
                .isEqualTo(422);
        assertThat(operator.get("/issuers/harbour/approvals?status=maybe").status())
                .isEqualTo(422);
    }

    @Test
    void whatIsNotThereIsNotFound() throws Exception {
        for (String path : new String[] {
            "/issuers/nope",
            "/issuers/nope/apis",
            "/issuers/harbour/apis/nope",
            "/issuers/harbour/clients/nope",
            "/issuers/harbour/routes/nope",
            "/issuers/harbour/approvals/nope",
            "/decisions/dec_nope",
            "/issuers/harbour/apis/tides/scopes/berths.read",
            "/nowhere"
        }) {
            Wire.Answer answer = operator.get(path);
            assertThat(answer.status()).as(path).isEqualTo(404);
            assertThat(answer.header("Content-Type")).as(path).startsWith("application/problem+json");
        }
    }

    @Test
    void aSecretIsShownOnceAndNeverAgain() throws Exception {
        JsonNode made = operator.harbour("POST", "/clients", "{\"name\":\"shown-once\"}")
                .json();
        String secret = made.path("secret").path("secret").asString();
        assertThat(secret).startsWith("admsec_");
        assertThat(made.path("secret").path("authorization").asString()).startsWith("Basic ");
        assertThat(operator.get("/issuers/harbour/clients/shown-once").body()).doesNotContain(secret);
        assertThat(operator.get("/issuers/harbour/clients?search=shown").body())
                .doesNotContain(secret)
                .contains("shown-once");
    }

    @Test
    void theDescriptionNamesEveryAddress() throws Exception {
        JsonNode description = Wire.get(admin("/openapi.json")).json();
        assertThat(description.path("openapi").asString()).startsWith("3.1");
        assertThat(description.path("paths").propertyNames())
                .contains(
                        "/admin/issuers/{issuer}/clients/{client}/secrets",
                        "/admin/issuers/{issuer}/routes/{route}",
                        "/admin/issuers/{issuer}/approvals/{approval}/withdraw",
                        "/admin/decisions/{id}");
        assertThat(description
                        .path("components")
                        .path("schemas")
                        .path("ClientMade")
                        .path("properties")
                        .propertyNames())
                .contains("now", "secret", "notes");
        assertThat(description.toString()).doesNotContain("dev.admit");
    }

    @Test
    void hostileUnicodeAndLongTextsAreRefusedInEveryField() throws Exception {
        for (String field : new String[] {"client_name"}) {
            for (String value : new String[] {"a\\u202eb", "a\\r\\nb", "\\u0000", "x".repeat(201), "\\ud800"}) {
                Wire.Answer answer = operator.harbour(
                        "POST", "/clients", "{\"name\":\"hostile\",\"%s\":\"%s\"}".formatted(field, value));
                assertThat(answer.status()).as(field + " " + value).isIn(400, 422);
            }
        }
        assertThat(operator.get("/issuers/harbour/clients/hostile").status()).isEqualTo(404);
    }

    @Test
    void decisionsAreFilteredAndPaged() throws Exception {
        Wire.get(demo.gateway() + "/tides/filtered-here");
        JsonNode page = operator.get("/decisions?verdict=refused&reason=no-token&route=" + Wire.encoded("GET /tides/**")
                        + "&limit=1")
                .json();
        assertThat(page.path("items").get(0).path("reason").asString()).isEqualTo("no-token");
        assertThat(page.path("items").size()).isEqualTo(1);
        assertThat(Wire.send("GET", admin("/decisions"), Map.of(), null).status())
                .isEqualTo(401);
    }

    @org.junit.jupiter.params.ParameterizedTest(name = "{0}: {1} at {2}")
    @org.junit.jupiter.params.provider.CsvSource(delimiter = '|', textBlock = """
            apis   | "name":"" | /name
            apis   | "name":"Upper" | /name
            apis   | "name":7 | /name
            apis   | "name":"a","title":"two\\nlines" | /title
            apis   | "name":"a","title":"\\u200bhidden" | /title
            apis   | "name":"a","audience":"not one word" | /audience
            apis   | "name":"a","audience":"https://x.example#f" | /audience
            apis   | "name":"a","upstream":"ftp://x.example" | /upstream
            apis   | "name":"a","upstream":"http://u:p@x.example" | /upstream
            apis   | "name":"a","upstream":"http://x.example\\r\\nHost: y" | /upstream
            apis   | "name":"a","outside_domains":"yes" | /outside_domains
            apis   | "name":"a","colour":1 | /colour
            scopes | "name":"tides read" | /name
            scopes | "name":"sc_tides","effect":"reads","reach":"own","for":"people" | /name
            scopes | "name":"tides.x","effect":"eats","reach":"own","for":"people" | /effect
            scopes | "name":"tides.x","effect":"reads","reach":"far","for":"people" | /reach
            scopes | "name":"tides.x","effect":"reads","reach":"own","for":"dogs" | /for
            scopes | "name":"tides.x","effect":"reads","reach":"own","for":"clients","approver":"person" | /approver
            scopes | "name":"tides.x","effect":"reads","reach":"own","for":"people","status":"closing" | /closes_on
            scopes | "name":"tides.x","effect":"reads","reach":"own","for":"people","status":"closing",\
            "closes_on":"soon" | /closes_on
            scopes | "name":"tides.x","effect":"reads","reach":"own","for":"people","consequence":"\\u0007" | \
            /consequence
            scopes | "name":"tides.x","effect":"reads","reach":"own","for":"people","consequence":"See {all}." | \
            /consequence
            scopes | "name":"tides.x","effect":"reads","reach":"own","for":"people","by_role":"x" | /by_role
            roles  | "name":"with.dot","scopes":["tides.read"] | /name
            roles  | "name":"a","title":"\\ud800","scopes":["tides.read"] | /title
            roles  | "name":"a" | /scopes
            roles  | "name":"a","scopes":"tides.read" | /scopes
            roles  | "name":"a","scopes":[null] | /scopes/0
            routes | "path":"/x","api":"tides","scopes":["tides.read"],"methods":["G ET"] | /methods/0
            routes | "path":"x","api":"tides","scopes":["tides.read"] | /path
            routes | "path":"/x/../y","api":"tides","scopes":["tides.read"] | /path
            routes | "path":"/_admit/x","api":"tides","scopes":["tides.read"] | /path
            routes | "path":"/x","api":"nope","scopes":["tides.read"] | /api
            routes | "path":"/x","api":"tides","scopes":["berths.read"] | /scopes/0
            routes | "path":"/x","api":"tides","scopes":["tides.read"],"mode":"some-of" | /mode
            routes | "path":"/x","open":true,"fixed_response":{"status":99} | /fixed_response/status
            routes | "path":"/x","open":true,"fixed_response":{"content_type":"a\\r\\nb"} | /fixed_response/content_type
            routes | "path":"/x","open":true,"fixed_response":{"colour":1} | /fixed_response/colour""")
    void eachFieldOfWhatIsRegisteredIsCheckedAndNamed(String what, String members, String pointer) throws Exception {
        String path = what.equals("scopes") || what.equals("roles") ? "/apis/tides/" + what : "/" + what;
        Wire.Answer answer = operator.harbour("POST", path, "{" + members + "}");
        assertThat(answer.status()).as(answer.body()).isEqualTo(422);
        assertThat(answer.json().path("faults").get(0).path("pointer").asString())
                .isEqualTo(pointer);
    }

    @Test
    void aFieldThatIsTooLongSaysHowLongItMayBe() throws Exception {
        String long201 = "x".repeat(201);
        for (String[] one : new String[][] {
            {"/apis", "\"name\":\"a\",\"title\":\"%s\"", "/title"},
            {"/apis", "\"name\":\"%s\"", "/name"},
            {"/clients", "\"name\":\"a\",\"client_name\":\"%s\"", "/client_name"},
            {"/apis/tides/roles", "\"name\":\"a\",\"scopes\":[\"tides.read\"],\"title\":\"%s\"", "/title"},
            {"/clients", "\"name\":\"a\",\"tags\":[\"%s\"]", "/tags/0"}
        }) {
            JsonNode fault = operator.harbour("POST", one[0], "{" + one[1].formatted(long201) + "}")
                    .json()
                    .path("faults")
                    .get(0);
            assertThat(fault.path("pointer").asString()).isEqualTo(one[2]);
            assertThat(fault.toString()).doesNotContain(long201);
        }
    }
}
