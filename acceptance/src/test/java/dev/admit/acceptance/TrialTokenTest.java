package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.parallel.ResourceLock;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.JsonNode;

/**
 * Calling as a client without its credential: what a trial token is, who may have one, and what it may never become.
 */
@ResourceLock(Running.DEMO)
class TrialTokenTest {
    private static Running demo;
    private static Operator operator;

    @BeforeAll
    static void start() throws Exception {
        demo = Running.demo();
        operator = Operator.of(demo);
    }

    @Test
    void itIsWhatTheClientWouldGetForTwoMinutesAndNamesWhoHadItMade() throws Exception {
        JsonNode made = operator.harbour(
                        "POST", "/tokens/trial", "{\"client\":\"tide-buoy-07\",\"scope\":\"tides.read\"}")
                .json();
        JsonNode claims = Visitor.claims(made.path("token").asString());
        assertThat(claims.path("exp").asLong() - claims.path("iat").asLong()).isLessThanOrEqualTo(120);
        assertThat(claims.path("act").path("sub").asString())
                .isEqualTo(demo.ready().path("operator").path("client_id").asString());
        assertThat(claims.path("act").path("trial").asBoolean()).isTrue();
        assertThat(claims.path("client_id").asString())
                .isEqualTo(demo.ready()
                        .path("clients")
                        .path("tide-buoy-07")
                        .path("client_id")
                        .asString());
        Wire.Answer answer = Wire.call(
                "GET", demo.gateway() + "/tides/north-quay", made.path("token").asString());
        assertThat(answer.status()).isEqualTo(200);
        assertThat(operator.decision(answer).path("done").toString()).contains("a trial token that operator had made");
        JsonNode line = operator.get("/issuers/harbour/audit?what=token.trial")
                .json()
                .path("items")
                .get(0);
        assertThat(line.path("who").asString()).isEqualTo("operator");
        assertThat(line.path("on").asString()).isEqualTo("tide-buoy-07");
        assertThat(line.toString()).doesNotContain(made.path("token").asString());
    }

    @ParameterizedTest(name = "{0} with {1}: {2}")
    @CsvSource(nullValues = "none", textBlock = """
            night-audit,  manifests.inspect, scope-not-approved
            tide-buoy-07, berths.read,       scope-not-requested
            tide-buoy-07, nothing.such,      unknown-scope
            quayside-board, tides.read,      grant-not-allowed""")
    void itGivesNoMoreThanTheClientHas(String client, String scope, String reason) throws Exception {
        Wire.Answer refused = operator.harbour(
                "POST", "/tokens/trial", "{\"client\":\"%s\",\"scope\":\"%s\"}".formatted(client, scope));
        assertThat(refused.status()).isEqualTo(409);
        assertThat(refused.json().path("reason").asString()).isEqualTo(reason);
        assertThat(operator.get("/decisions/" + refused.json().path("decision").asString())
                        .json()
                        .path("reason")
                        .asString())
                .isEqualTo(reason);
    }

    @Test
    void itEndsWithTheApprovalAndWithTheSwitch() throws Exception {
        JsonNode client = operator.approvedClient("tried-and-withdrawn", "tides.read");
        String token = operator.harbour("POST", "/tokens/trial", "{\"client\":\"tried-and-withdrawn\"}")
                .json()
                .path("token")
                .asString();
        assertThat(Wire.call("GET", demo.gateway() + "/tides/north-quay", token).status())
                .isEqualTo(200);
        operator.harbour("POST", "/approvals/" + client.path("approval").asString() + "/withdraw", "{}");
        assertThat(Wire.call("GET", demo.gateway() + "/tides/north-quay", token).status())
                .isEqualTo(401);
        operator.harbour("POST", "/clients/tried-and-withdrawn/off", "{}");
        assertThat(operator.harbour("POST", "/tokens/trial", "{\"client\":\"tried-and-withdrawn\"}")
                        .json()
                        .path("reason")
                        .asString())
                .isEqualTo("client-switched-off");
    }

    @Test
    void theServiceCallsItsOwnGatewayAndNothingElse() throws Exception {
        JsonNode called = operator.harbour(
                        "POST",
                        "/calls",
                        "{\"method\":\"GET\","
                                + "\"path\":\"/received?a=b\",\"client\":\"tide-buoy-07\",\"headers\":{\"X-Own\":\"k"
                                + "ept\"}}")
                .json();
        assertThat(called.path("status").asInt()).isEqualTo(200);
        assertThat(called.path("decision").path("verdict").asString()).isEqualTo("admitted");
        assertThat(called.path("body").asString()).containsIgnoringCase("x-own").contains("a=b");
        assertThat(called.path("curl").asString())
                .startsWith("curl ")
                .contains("$TOKEN")
                .doesNotContain("eyJ");
        JsonNode plain = operator.harbour(
                        "POST", "/calls", "{\"path\":\"/tides/north-quay\",\"client\":\"tide-buoy-07\"}")
                .json();
        assertThat(plain.path("status").asInt()).isEqualTo(200);
        assertThat(plain.toString()).as("the token stays").doesNotContain("eyJ");
        JsonNode without =
                operator.harbour("POST", "/calls", "{\"path\":\"/tides/x\"}").json();
        assertThat(without.path("status").asInt()).isEqualTo(401);
        assertThat(without.path("decision").path("reason").asString()).isEqualTo("no-token");
        JsonNode refused = operator.harbour(
                        "POST",
                        "/calls",
                        "{\"path\":\"/manifests/v-204\",\"client\":\"night-audit\",\"scope\":\"manifests.inspect\"}")
                .json();
        assertThat(refused.path("status").asInt()).as("nothing was sent").isZero();
        assertThat(refused.path("trial").path("reason").asString()).isEqualTo("scope-not-approved");
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', textBlock = """
            {"path":"//evil.example/x"}
            {"path":"http://evil.example/"}
            {"path":"@evil.example"}
            {"path":"/a b"}
            {"path":"/x","method":"CONNECT"}
            {"path":"/x","method":"GET / HTTP/1.1"}
            {"path":"/x","headers":{"X-Forwarded-For":"10.0.0.1"}}
            {"path":"/x","headers":{"Content-Length":"5"}}
            {"path":"/x","headers":{"X-A":"b\\r\\nX-C: d"}}
            {"path":"/x","person":"made-up"}
            {"path":""}
            {}""")
    void aCallThatCouldGoElsewhereOrSayWhatIsNotSoIsRefused(String json) throws Exception {
        Wire.Answer answer = operator.harbour("POST", "/calls", json);
        assertThat(answer.status()).as(answer.body()).isEqualTo(422);
        assertThat(answer.json().path("faults").size()).isPositive();
    }

    @Test
    void nobodyButAnOperatorBeginsATrialSignInAndItsAddressIsNobodysElse() throws Exception {
        // The console's address is no client's redirect: only a request whose state this service sealed may be answered
        // there.
        String tried = demo.server() + "/console/_/tried";
        Visitor.Seen page = new Visitor(demo)
                .get(Visitor.asking(demo, "quayside-board", Visitor.Pkce.make(), "tides.read", "redirect_uri", tried));
        assertThat(page.status()).isEqualTo(400);
        assertThat(page.location()).isEmpty();
        page = new Visitor(demo)
                .get(Visitor.asking(
                        demo,
                        "quayside-board",
                        Visitor.Pkce.make(),
                        "tides.read",
                        "redirect_uri",
                        tried,
                        "state",
                        "A".repeat(120)));
        assertThat(page.status()).isEqualTo(400);
        assertThat(new Visitor(demo)
                        .get("/console/_/try?issuer=harbour&client=quayside-board")
                        .response()
                        .uri()
                        .getQuery())
                .isEqualTo("problem=trial");
        Visitor nell = new Visitor(demo);
        Visitor.signIn(nell.get("/console/_/sign-in?issuer=harbour"), demo, "nell");
        assertThat(nell.get("/console/_/try?issuer=harbour&client=quayside-board")
                        .response()
                        .uri()
                        .getQuery())
                .as("an auditor")
                .isEqualTo("problem=trial");
    }

    @Test
    void aSealedStateIsForOneClientAndTheOperatorWhoBegan() throws Exception {
        Visitor corin = new Visitor(demo);
        Visitor.signIn(corin.get("/console/_/sign-in?issuer=harbour"), demo, "corin");
        Visitor.Seen choosing = corin.get("/console/_/try?issuer=harbour&client=quayside-board&scope=tides.read");
        String state = Visitor.parameters(choosing.response().uri().toString()).get("state");
        Visitor.Seen other = new Visitor(demo)
                .get(Visitor.asking(
                        demo,
                        "pilot-tablet",
                        Visitor.Pkce.make(),
                        "tides.read",
                        "redirect_uri",
                        demo.server() + "/console/_/tried",
                        "state",
                        state));
        assertThat(other.status()).as("of another client").isEqualTo(400);
        Visitor edda = new Visitor(demo);
        Visitor.signIn(edda.get("/console/_/sign-in?issuer=harbour"), demo, "edda");
        assertThat(edda.get("/console/_/tried?code=x&state=" + state)
                        .response()
                        .uri()
                        .getQuery())
                .as("of another operator")
                .isEqualTo("problem=trial");
    }

    @Test
    void theCommandLineHasThemToo() throws Exception {
        Running.Said token = demo.admit("token", "trial", "tide-buoy-07", "--scope", "tides.read");
        assertThat(token.exitCode()).as(token.err()).isZero();
        assertThat(Visitor.claims(token.out().strip()).path("act").path("name").asString())
                .isEqualTo("operator");
        Running.Said call =
                demo.admit("call", "GET", "/tides/north-quay", "--trial", "tide-buoy-07", "--scope", "tides.read");
        assertThat(call.exitCode()).as(call.err()).isZero();
        Running.Said refused =
                demo.admit("call", "GET", "/manifests/v-204", "--trial", "night-audit", "--scope", "manifests.inspect");
        assertThat(refused.exitCode()).isEqualTo(1);
        assertThat(refused.err()).contains("admit approval grant night-audit manifests.inspect");
    }
}
