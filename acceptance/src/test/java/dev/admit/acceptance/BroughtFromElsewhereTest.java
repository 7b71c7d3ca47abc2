package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.HashMap;
import java.util.Map;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.parallel.ResourceLock;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.JsonNode;

/**
 * APIs and clients that had their names before they came: taken as they are, with a word of advice; and what stays
 * refused says why.
 */
@ResourceLock(Running.DEMO)
class BroughtFromElsewhereTest {
    private static final String ISSUER = "depot";
    private static Running demo;
    private static Operator operator;

    @BeforeAll
    static void start() throws Exception {
        demo = Running.demo();
        operator = Operator.of(demo);
        made(operator.post("/issuers", "{\"name\":\"%s\"}".formatted(ISSUER)));
        made(post("/apis", "{\"name\":\"stock\",\"audience\":\"legacy-stock\"}"));
    }

    private static Wire.Answer send(String method, String path, String json) throws Exception {
        return operator.send(
                method, "/issuers/" + ISSUER + path, method.equals("POST") || method.equals("GET") ? null : "*", json);
    }

    private static Wire.Answer post(String path, String json) throws Exception {
        return send("POST", path, json);
    }

    private static JsonNode made(Wire.Answer answer) {
        assertThat(answer.status()).as(answer.body()).isBetween(200, 299);
        return answer.json();
    }

    private static String scope(String name) {
        return "{\"name\":\"%s\",\"effect\":\"reads\",\"reach\":\"everyone\",\"for\":\"clients\"}".formatted(name);
    }

    private static Wire.Answer token(JsonNode client, String form) throws Exception {
        return Wire.form(
                demo.server() + "/" + ISSUER + "/token", Wire.basic(client), "grant_type=client_credentials" + form);
    }

    private static JsonNode client(String json) throws Exception {
        JsonNode it = made(post("/clients", json));
        return Running.JSON.readTree("{\"client_id\":\"%s\",\"client_secret\":\"%s\"}"
                .formatted(
                        it.path("now").path("client_id").asString(),
                        it.path("secret").path("secret").asString()));
    }

    @ParameterizedTest(name = "{0}")
    @CsvSource({
        "act_as_keeper,easier to read",
        "read:orders,easier to read",
        "api1,easier to read",
        "...,easier to read",
        "https://stock.example/all,does not say what it permits"
    })
    void aScopeKeepsItsNameAndOpensARoute(String name, String advice) throws Exception {
        assertThat(made(post("/apis/stock/scopes", scope(name))).path("notes").toString())
                .contains(advice);
        JsonNode client = client("{\"name\":\"%s\"}".formatted("holder-" + Math.abs(name.hashCode())));
        made(post(
                "/approvals/grant",
                "{\"client\":\"%s\",\"scopes\":[\"%s\"]}"
                        .formatted(client.path("client_id").asString(), name)));
        Wire.Answer token = token(client, "&scope=" + Wire.encoded(name));
        assertThat(made(token).path("scope").asString()).isEqualTo(name);
        String path = "/depot-stock/" + Math.abs(name.hashCode());
        String route = made(post(
                        "/routes",
                        ("{\"methods\":[\"GET\"],\"path\":\"%s\",\"api\":\"stock\",\"scopes\":[\"%s\"],\"fixed_respo"
                                        + "nse\":{\""
                                        + "body\":\"in\"}}")
                                .formatted(path, name)))
                .path("now")
                .path("id")
                .asString();
        assertThat(Wire.call(
                                "GET",
                                demo.gateway() + path,
                                token.json().path("access_token").asString())
                        .body())
                .isEqualTo("in");
        assertThat(Wire.call("GET", demo.gateway() + path, "x").status()).isEqualTo(401);
        made(send("DELETE", "/routes/" + route, null));
        assertThat(demo.admit("scope", "show", "stock", name, "--issuer", ISSUER)
                        .out())
                .contains(name);
        assertThat(demo.admit("scope", "remove", "stock", name, "--confirm", name, "--issuer", ISSUER)
                        .exitCode())
                .isZero();
    }

    @ParameterizedTest(name = "{0}")
    @CsvSource({
        "openid,Core §5.4",
        "admit:run,does not use itself",
        "admin.change,does not use itself",
        "--until=2030,begin with -",
        "'two words',RFC 6749 §3.3",
        "'a\"b',RFC 6749 §3.3"
    })
    void aNameThatCannotBeOneIsRefusedWithTheReason(String name, String says) throws Exception {
        Wire.Answer refused = post(
                "/apis/stock/scopes",
                Running.JSON.writeValueAsString(
                        Map.of("name", name, "effect", "reads", "reach", "everyone", "for", "clients")));
        assertThat(refused.status()).isEqualTo(422);
        assertThat(refused.body()).contains(says);
    }

    @Test
    void oneWordIsNotARoleAndAScope() throws Exception {
        made(post("/apis/stock/scopes", scope("stocktaker")));
        made(post("/apis/stock/scopes", scope("stock.take")));
        assertThat(post("/apis/stock/roles", "{\"name\":\"stocktaker\",\"scopes\":[\"stock.take\"]}")
                        .status())
                .isEqualTo(409);
        made(post("/apis/stock/roles", "{\"name\":\"storekeeper\",\"scopes\":[\"stock.take\"]}"));
        assertThat(post("/apis/stock/scopes", scope("storekeeper")).status())
                .as("or a request for the role would be one for the scope")
                .isEqualTo(409);
    }

    @Test
    void anAudienceThatIsNoUriIsAStringThatNoRequestNames() throws Exception {
        made(post("/apis/stock/scopes", scope("stock.count")));
        JsonNode client = client("{\"name\":\"counter\"}");
        made(post("/approvals/grant", "{\"client\":\"counter\",\"scopes\":[\"stock.count\"]}"));
        Wire.Answer token = token(client, "&scope=stock.count");
        assertThat(Visitor.claims(made(token).path("access_token").asString())
                        .path("aud")
                        .toString())
                .contains("legacy-stock");
        Wire.Answer named = token(client, "&scope=stock.count&resource=legacy-stock");
        assertThat(named.status()).isEqualTo(400);
        assertThat(named.json().path("error").asString()).isEqualTo("invalid_target");
        assertThat(made(post("/apis", "{\"name\":\"shelves\",\"audience\":\"legacy-shelves\"}"))
                        .path("notes")
                        .toString())
                .contains("RFC 8707 §2");
        assertThat(post("/apis", "{\"name\":\"other\",\"audience\":\"cl_someone\"}")
                        .status())
                .isEqualTo(422);
        assertThat(post("/apis", "{\"name\":\"other\",\"audience\":\"legacy shelves\"}")
                        .status())
                .isEqualTo(422);
    }

    @Test
    void aClientIdIsTakenWhereItCannotPassForAnother() throws Exception {
        JsonNode client = client("{\"name\":\"ledger\",\"client_id\":\"Ledger.2019\"}");
        assertThat(client.path("client_id").asString()).isEqualTo("Ledger.2019");
        made(post("/apis/stock/scopes", scope("stock.write")));
        made(post("/approvals/grant", "{\"client\":\"ledger\",\"scopes\":[\"stock.write\"]}"));
        assertThat(Visitor.claims(made(token(client, "&scope=stock.write"))
                                .path("access_token")
                                .asString())
                        .path("sub")
                        .asString())
                .isEqualTo("Ledger.2019");
        for (String taken : new String[] {"Ledger.2019", "ledger", "legacy-stock"}) {
            assertThat(post("/clients", "{\"name\":\"another\",\"client_id\":\"%s\"}".formatted(taken))
                            .status())
                    .as(taken)
                    .isEqualTo(409);
        }
        assertThat(post("/apis", "{\"name\":\"other\",\"audience\":\"Ledger.2019\"}")
                        .status())
                .as("ID tokens have that audience")
                .isEqualTo(409);
        assertThat(operator.post("/issuers/harbour/clients", "{\"name\":\"another\",\"client_id\":\"Ledger.2019\"}")
                        .status())
                .as("at another issuer")
                .isEqualTo(409);
        for (String wrong : new String[] {"cl_mine", "pe_somebody", "api_x", "a b", "coastguard:boat", "x/y", "ab"}) {
            assertThat(post("/clients", "{\"name\":\"another\",\"client_id\":\"%s\"}".formatted(wrong))
                            .status())
                    .as(wrong)
                    .isEqualTo(422);
        }
        assertThat(send("PATCH", "/clients/ledger", "{\"client_id\":\"Ledger.2020\"}")
                        .status())
                .isEqualTo(422);
        assertThat(demo.admit("client", "add", "tally", "--client-id", "tally-1", "--issuer", ISSUER)
                        .out())
                .contains("tally-1");
    }

    @ParameterizedTest(name = "{0}: {1}")
    @CsvSource({
        "depot:/back,201",
        "org.saltmarsh.depot:/back,201",
        "javascript:alert(1),422",
        "data:text/html;x,422",
        "file:///back,422",
        "intent:x,422"
    })
    void aPrivateSchemeWithoutADotIsTakenAndPointedOut(String redirect, int status) throws Exception {
        String name = "native-" + Math.abs(redirect.hashCode());
        Wire.Answer answer = post(
                "/clients",
                "{\"name\":\"%s\",\"kind\":\"native\",\"redirect_uris\":[\"%s\"]}".formatted(name, redirect));
        assertThat(answer.status()).as(answer.body()).isEqualTo(status);
        if (redirect.startsWith("depot:"))
            assertThat(answer.json().path("now").path("remarks").toString()).contains("RFC 8252 §7.1");
    }

    @Test
    void aBrowserGetsAPageAndAProgramGetsProblemDetails() throws Exception {
        String url = demo.gateway() + "/tides/north-quay";
        Wire.Answer page = Wire.send(
                "GET", url, Map.of("Accept", "text/html,application/xhtml+xml,application/xml;q=0.9,*/*;q=0.8"), null);
        Wire.Answer program = Wire.send("GET", url, Map.of("Accept", "application/json"), null);
        assertThat(page.status()).isEqualTo(401).isEqualTo(program.status());
        assertThat(page.header("Content-Type")).isEqualTo("text/html; charset=utf-8");
        assertThat(page.header("WWW-Authenticate")).isEqualTo(program.header("WWW-Authenticate"));
        assertThat(page.header("Content-Security-Policy")).contains("default-src 'none'", "sandbox");
        assertThat(page.body()).contains("<h1>", page.header("Admit-Decision"));
        Wire.Answer ofPage =
                Wire.send("GET", url, Map.of("Accept", "text/html", "Origin", "http://127.0.0.1:9496"), null);
        assertThat(ofPage.response().headers().allValues("Vary").toString())
                .as("nothing keeps one origin's answer for another")
                .contains("Origin", "Accept");
        assertThat(program.header("Content-Type")).isEqualTo("application/problem+json");
        for (String accept : new String[] {"*/*", "application/json, text/html", "text/plain"}) {
            assertThat(Wire.send("GET", url, Map.of("Accept", accept), null).header("Content-Type"))
                    .as(accept)
                    .isEqualTo("application/problem+json");
        }
        assertThat(Wire.send("GET", demo.gateway() + "/none/%3Cscript%3E", Map.of("Accept", "text/html"), null)
                        .body())
                .doesNotContain("<script>");
    }

    @Test
    void aTextNamesOnlyWhatIsFilledIn() throws Exception {
        String body =
                "{\"methods\":[\"GET\"],\"path\":\"/depot-told/{shelf}\",\"open\":true,\"fixed_response\":{\"body\""
                        + ":\"%s\"}}";
        for (String unknown : new String[] {"{{path.other}}", "{{clams.sub}}", "{{#pth}}x{{/pth}}"}) {
            Wire.Answer refused = post("/routes", body.formatted(unknown));
            assertThat(refused.status()).as(refused.body()).isEqualTo(422);
            assertThat(refused.body()).contains("/fixed_response/body", "decision, route, method, path.shelf");
        }
        String id = made(post("/routes", body.formatted("{{path.shelf}} {{decision}} {{route}} {{method}}")))
                .path("now")
                .path("id")
                .asString();
        Wire.Answer told = Wire.get(demo.gateway() + "/depot-told/a7");
        assertThat(told.body()).isEqualTo("a7 " + told.header("Admit-Decision") + " GET /depot-told/{shelf} GET");
        Map<String, String> examples = new HashMap<>();
        made(send("GET", "/routes/" + id + "/placeholders", null))
                .path("items")
                .forEach(it -> examples.put(
                        it.path("name").asString(), it.path("example").asString("")));
        assertThat(examples).containsEntry("path.shelf", "a7").containsEntry("method", "GET");
        assertThat(demo.admit("route", "placeholders", "GET", "/depot-told/{shelf}", "--issuer", ISSUER)
                        .out())
                .contains("{{path.shelf}}", "a7");
        assertThat(post(
                                "/routes",
                                "{\"methods\":[\"GET\"],\"path\":\"/depot-y\",\"open\":true,\"fixed_response\":{\"bo"
                                        + "dy\""
                                        + ":\"\"},\"transform\":{\"refusals\":{\"any\":{\"body\":\"{{sentense}}\"}}}}")
                        .body())
                .contains("sentence, expected, received");
    }

    @Test
    void aRequestThatNamesNoScopeGetsAllWhereTheApiSaysSo() throws Exception {
        made(post("/apis/stock/scopes", scope("stock.one")));
        made(post("/apis/stock/scopes", scope("stock.two")));
        JsonNode client = client("{\"name\":\"taker\"}");
        made(post("/approvals/grant", "{\"client\":\"taker\",\"scopes\":[\"stock.one\",\"stock.two\"]}"));
        Wire.Answer none = token(client, "");
        assertThat(none.status()).isEqualTo(400);
        assertThat(none.json().path("fix").asString()).contains("--scope 'stock.one stock.two'");
        made(send("PATCH", "/apis/stock", "{\"all_by_default\":true}"));
        assertThat(made(token(client, "")).path("scope").asString()).isEqualTo("stock.one stock.two");
        made(send("PATCH", "/apis/stock", "{\"all_by_default\":false}"));
        assertThat(token(client, "").status()).isEqualTo(400);
    }

    @Test
    void aStandardProfileFieldIsShownRequiredOrLockedLikeAnyOther() throws Exception {
        made(operator.send(
                "PATCH",
                "/issuers/harbour/profile-fields/given_name",
                "*",
                "{\"title\":\"First name\",\"at_sign_up\":true,\"editable\":false}"));
        made(operator.send("PATCH", "/issuers/harbour/profile-fields/locale", "*", "{\"on_profile_page\":false}"));
        Visitor tobias = new Visitor(demo);
        Visitor.Seen page = Visitor.signIn(tobias.get("/harbour/profile"), demo, "tobias");
        Visitor.Seen profile = tobias.get("/harbour/profile");
        assertThat(profile.body())
                .as(page.text())
                .contains("field-family_name")
                .doesNotContain("field-given_name\"")
                .doesNotContain("field-locale");
        assertThat(operator.send("PATCH", "/issuers/harbour/profile-fields/given_name", "*", "{\"claim\":\"other\"}")
                        .status())
                .as("the claim is the standard's")
                .isEqualTo(422);
        assertThat(operator.get("/issuers/harbour/setup").body()).contains("given_name");
        assertThat(operator.send("DELETE", "/issuers/harbour/profile-fields/given_name", null, null)
                        .status())
                .isEqualTo(204);
        assertThat(operator.send("DELETE", "/issuers/harbour/profile-fields/locale", null, null)
                        .status())
                .isEqualTo(204);
        assertThat(tobias.get("/harbour/profile").body())
                .as("as usual again")
                .contains("field-locale", "field-given_name");
    }

    @Test
    void onlyAnAdministratorGrantsWhatWasNotRequested() throws Exception {
        Cast cast = Cast.of(demo);
        for (String who :
                new String[] {"operator of harbour", "auditor of harbour", "owner of harbour", "person of harbour"}) {
            Operator by = new Operator(
                    demo.ready().path("admin_api").asString(),
                    cast.people.get(who).token());
            Wire.Answer refused = by.post(
                    "/issuers/harbour/approvals/grant", "{\"client\":\"old-crane\",\"scopes\":[\"tides.publish\"]}");
            assertThat(refused.status()).as("%s: %s", who, refused.body()).isEqualTo(403);
        }
    }
}
