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

/** Why, in sentences: of a request that was made, of one that never was, and of the table of routes. */
@ResourceLock(Running.DEMO)
class ExplainTest {
    private static Running demo;
    private static Operator operator;
    private static String token;

    @BeforeAll
    static void start() throws Exception {
        demo = Running.demo();
        operator = Operator.of(demo);
        JsonNode buoy = demo.ready().path("clients").path("tide-buoy-07");
        token = Wire.form(
                        demo.ready().path("issuers").path("harbour").asString() + "/token",
                        Wire.basic(buoy),
                        "grant_type=client_credentials&scope=tides.read")
                .json()
                .path("access_token")
                .asString();
    }

    private static Wire.Answer asked(String method, String path, String with) throws Exception {
        Map<String, String> body = new HashMap<>(Map.of("method", method, "path", path));
        if (with != null) body.put("token", with);
        return operator.harbour("POST", "/explain", Running.JSON.writeValueAsString(body));
    }

    @Test
    void aDecisionIsToldInSentencesWithItsFix() throws Exception {
        Wire.Answer refused = Wire.call("POST", demo.gateway() + "/tides/readings", token);
        String said = operator.get("/decisions/" + refused.header("Admit-Decision") + "/explained")
                .json()
                .path("sentences")
                .toString();
        assertThat(said)
                .contains(
                        "POST /tides/readings of tide-buoy-07 was refused by the gateway.",
                        "The check scope refused it (insufficient-scope)",
                        "expected the scope tides.publish; received the scope tides.read",
                        "The command is: admit client show");
    }

    /** Each that a socket would refuse is refused for the same reason when it is only asked about. */
    @ParameterizedTest(name = "{0} {1} with {2}: {3}")
    @CsvSource(nullValues = "-", textBlock = """
            GET,    /tides/north-quay,           good,   -
            GET,    /tides/north-quay,           -,      no-token
            GET,    /tides/north-quay,           broken, malformed-token
            GET,    /berths/n1,                  good,   wrong-audience
            POST,   /tides/readings,             good,   insufficient-scope
            GET,    /nowhere,                    good,   no-route
            DELETE, /tides/north-quay,           good,   method-not-allowed
            GET,    /tides/..%2fberths,          good,   unsafe-path
            GET,    /tides/x?access_token=abc,   -,      token-in-query
            GET,    /status,                     -,      -""")
    void whatWasNeverSentIsDecidedAsIfItWere(String method, String path, String with, String reason) throws Exception {
        String sent = with == null ? null : with.equals("good") ? token : "abc";
        Wire.Answer explained = asked(method, path, sent);
        assertThat(explained.status()).as(explained.body()).isEqualTo(200);
        assertThat(explained.json().path("decision").path("reason").asString(null))
                .isEqualTo(reason);
        assertThat(explained.json().path("sentences").get(0).asString())
                .contains(reason == null ? "would be admitted" : "would be refused");
        Wire.Answer real = Wire.send(
                method,
                demo.gateway() + path,
                sent == null ? Map.of() : Map.of("Authorization", "Bearer " + sent),
                null);
        assertThat(reason == null ? real.status() : real.json().path("reason").asString())
                .isEqualTo(reason == null ? 200 : reason);
    }

    @Test
    void nothingIsKeptOfItAndNoRateIsUsedUp() throws Exception {
        operator.harbour(
                "POST",
                "/routes",
                "{\"methods\":[\"GET\"],"
                        + "\"path\":\"/once\",\"open\":true,\"fixed_response\":{\"status\":200,\"body\":\"here\"},\""
                        + "limits\""
                        + ":{\"rates\":[\"1 per 1d by route\"]}}");
        for (int i = 0; i < 3; i++)
            assertThat(asked("GET", "/once", null)
                            .json()
                            .path("decision")
                            .path("verdict")
                            .asString())
                    .isEqualTo("admitted");
        String id =
                asked("GET", "/once", null).json().path("decision").path("id").asString();
        assertThat(operator.get("/decisions/" + id).status()).isEqualTo(404);
        assertThat(Wire.get(demo.gateway() + "/once").status()).isEqualTo(200);
        assertThat(Wire.get(demo.gateway() + "/once").status()).isEqualTo(429);
    }

    @Test
    void aTokenIsNeverPartOfTheAnswer() throws Exception {
        assertThat(asked("GET", "/tides/north-quay", token).body())
                .doesNotContain(token)
                .doesNotContain(token.substring(token.lastIndexOf('.')));
    }

    @Test
    void aRouteOfAnotherIssuerIsNotTold() throws Exception {
        assertThat(operator.send(
                                "POST",
                                "/issuers/gullwing/explain",
                                null,
                                "{\"method\":\"GET\",\"path\":\"/tides/north-quay\"}")
                        .status())
                .isEqualTo(404);
        assertThat(operator.send("POST", "/issuers/harbour/explain", null, "{\"method\":\"GET\",\"path\":\"no slash\"}")
                        .status())
                .isEqualTo(422);
        assertThat(operator.harbour("POST", "/explain", "{\"method\":\"GET\\r\\nX: y\",\"path\":\"/tides/x\"}")
                        .status())
                .isEqualTo(422);
        assertThat(asked("GET", "/tides/" + "a/".repeat(4000), null)
                        .json()
                        .path("decision")
                        .path("reason")
                        .asString())
                .isEqualTo("unsafe-path");
    }

    @Test
    void anAuditorMayAskAndAnOwnerOfTheirOwn() throws Exception {
        String nell = Visitor.tokens(demo, "admit-command-line", "nell", "openid admit:run")
                .path("access_token")
                .asString();
        String isolde = Visitor.tokens(demo, "admit-command-line", "isolde", "openid admit:run")
                .path("access_token")
                .asString();
        String api = demo.ready().path("admin_api").asString();
        Map<String, String> as = Map.of("Authorization", "Bearer " + nell, "Content-Type", "application/json");
        assertThat(Wire.send("POST", api + "/issuers/harbour/explain", as, "{\"method\":\"GET\",\"path\":\"/status\"}")
                        .status())
                .isEqualTo(200);
        String ofBerths = Wire.call("GET", demo.gateway() + "/berths/n1", token).header("Admit-Decision");
        String ofTides =
                Wire.call("GET", demo.gateway() + "/tides/north-quay", token).header("Admit-Decision");
        assertThat(Wire.call("GET", api + "/decisions/" + ofBerths + "/explained", isolde)
                        .status())
                .isEqualTo(200);
        assertThat(Wire.call("GET", api + "/decisions/" + ofTides + "/explained", isolde)
                        .status())
                .isEqualTo(404);
    }

    @Test
    void theTableSaysWhichRouteAnswersAndWhy() throws Exception {
        JsonNode tried = operator.harbour("GET", "/table?method=GET&path=/tides/north-quay", null)
                .json();
        assertThat(tried.path("answers").path("path").asString()).isEqualTo("/tides/**");
        assertThat(operator.harbour("GET", "/table?method=POST&path=/berths/n1/bookings", null)
                        .json()
                        .path("said")
                        .toString())
                .contains("POST /berths/{berth}/bookings");
        assertThat(operator.harbour("GET", "/table?method=DELETE&path=/tides/x", null)
                        .json()
                        .path("said")
                        .toString())
                .contains("other methods");
        assertThat(operator.harbour("GET", "/table?path=/a//b", null).status()).isEqualTo(422);
    }

    @Test
    void savingNamesWhatOverlaps() throws Exception {
        Wire.Answer made = operator.harbour(
                "POST",
                "/routes",
                "{\"methods\":[\"GET\"],"
                        + "\"path\":\"/tides/{gauge}/marks\",\"api\":\"tides\",\"scopes\":[\"tides.read\"]}");
        assertThat(made.json().path("notes").toString())
                .contains("GET /tides/** fits some of the same requests; there this one answers: at segment 2 it has "
                        + "{gauge}, and the other /**.");
    }

    @Test
    void theCommandLineExplains() throws Exception {
        Running.Said said =
                demo.admit("explain", "POST", "/tides/readings", "--as", "tide-buoy-07", "--scope", "tides.read");
        assertThat(said.out())
                .as(said.err())
                .contains("would be refused")
                .contains("insufficient-scope")
                .contains("admit client show tide-buoy-07");
        String decision = Wire.get(demo.gateway() + "/tides/x").header("Admit-Decision");
        assertThat(demo.admit("explain", decision).out())
                .contains("was refused by the gateway")
                .contains("no-token");
        assertThat(demo.admit("route", "try", "GET", "/tides/x").out())
                .contains("is answered by the route GET /tides/**");
        assertThat(demo.admit("explain", decision, "--token", "x").exitCode()).isEqualTo(2);
    }
}
