package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.parallel.ResourceLock;
import tools.jackson.databind.JsonNode;

/** Each change to the routes makes a revision; any one can be restored, and with it nothing but routes. */
@ResourceLock(Running.DEMO)
class RevisionsTest {
    private static int issuers;
    private Running demo;
    private Operator operator;
    private String issuer;

    /** An issuer for each test: revisions are of an issuer, and the demo is shared. */
    @BeforeEach
    void start() throws Exception {
        demo = Running.demo();
        operator = Operator.of(demo);
        issuer = "slipway-" + ++issuers;
        assertThat(operator.post("/issuers", "{\"name\":\"%s\"}".formatted(issuer))
                        .status())
                .isEqualTo(201);
        send("POST", "/apis", "{\"name\":\"slips\",\"upstream\":\"http://127.0.0.1:9\"}");
        send(
                "POST",
                "/apis/slips/scopes",
                "{\"name\":\"slips.read\",\"effect\":\"reads\",\"reach\":\"everyone\",\"for\":\"clients\"}");
    }

    private Wire.Answer send(String method, String path, String json) throws Exception {
        return operator.send(
                method, "/issuers/" + issuer + path, method.equals("PATCH") || method.equals("PUT") ? "*" : null, json);
    }

    private JsonNode add(String path, String why) throws Exception {
        Wire.Answer made = send(
                "POST",
                "/routes?why=" + Wire.encoded(why),
                ("{\"methods\":[\"GET\"],"
                                + "\"path\":\"/at-%s%s\",\"open\":true,\"fixed_response\":{\"status\":200,\"body\""
                                + ":\"here\"}}")
                        .formatted(issuer, path));
        assertThat(made.status()).as(made.body()).isEqualTo(201);
        return made.json();
    }

    private int status(String path) throws Exception {
        return Wire.get(demo.gateway() + "/at-" + issuer + path).status();
    }

    private List<String> paths() throws Exception {
        List<String> paths = new ArrayList<>();
        send("GET", "/routes", null)
                .json()
                .path("items")
                .forEach(it -> paths.add(it.path("path").asString()));
        return paths;
    }

    @Test
    void eachChangeSaysWhoWhenWhatAndWhy() throws Exception {
        JsonNode made = add("/a", "the first one");
        String id = made.path("now").path("id").asString();
        send(
                "PUT",
                "/routes/" + id + "?why=a+longer+word",
                ("{\"methods\":[\"GET\"],"
                                + "\"path\":\"/at-%s/a\",\"open\":true,\"fixed_response\":{\"status\":201,\"body\""
                                + ":\"here\"}}")
                        .formatted(issuer));
        send("DELETE", "/routes/" + id, null);
        JsonNode all = send("GET", "/revisions", null).json().path("items");
        assertThat(all.size()).isEqualTo(3);
        assertThat(all.get(0).path("changed").toString()).contains("removed GET /at-" + issuer + "/a");
        assertThat(all.get(1).path("changed").toString())
                .contains("was")
                .contains("200")
                .contains("201");
        assertThat(all.get(1).path("why").asString()).isEqualTo("a longer word");
        assertThat(all.get(2).path("why").asString()).isEqualTo("the first one");
        assertThat(all.get(2).path("who").asString()).isEqualTo("operator");
        assertThat(send("GET", "/revisions/2", null).json().path("number").asLong())
                .isEqualTo(2);
        assertThat(send("GET", "/revisions/9", null).status()).isEqualTo(404);
        for (String cursor : List.of("9999999999999999999", "-1", "x")) {
            assertThat(send(
                                    "GET",
                                    "/revisions?after="
                                            + java.util.Base64.getUrlEncoder().encodeToString(cursor.getBytes()),
                                    null)
                            .status())
                    .as(cursor)
                    .isEqualTo(422);
        }
        assertThat(send("GET", "/revisions?limit=2", null).json().path("next").asString(""))
                .isNotEmpty();
    }

    @Test
    void anyOneIsBroughtBackLiveAtOnceAndThatIsARevisionToo() throws Exception {
        add("/a", "");
        JsonNode b = add("/b", "");
        send("DELETE", "/routes/" + b.path("now").path("id").asString(), null);
        add("/c", "");
        assertThat(List.of(status("/a"), status("/b"), status("/c"))).containsExactly(200, 404, 200);
        JsonNode back = send("POST", "/revisions/2/restore?confirm=2", "{\"why\":\"c was too much\"}")
                .json();
        assertThat(back.path("now").path("number").asLong()).isEqualTo(5);
        assertThat(back.path("now").path("changed").toString())
                .contains("added GET /at-" + issuer + "/b", "removed GET /at-" + issuer + "/c");
        assertThat(List.of(status("/a"), status("/b"), status("/c"))).containsExactly(200, 200, 404);
        assertThat(send("POST", "/revisions/4/restore?confirm=4", "{}")
                        .json()
                        .path("now")
                        .path("number")
                        .asLong())
                .as("and back again")
                .isEqualTo(6);
        assertThat(List.of(status("/a"), status("/b"), status("/c"))).containsExactly(200, 404, 200);
        assertThat(send("POST", "/revisions/6/restore?confirm=6", "{}")
                        .json()
                        .path("notes")
                        .toString())
                .contains("stand so now");
        assertThat(send("POST", "/revisions/77/restore?confirm=77", "{}").status())
                .isEqualTo(404);
    }

    @Test
    void aStaleConditionStaysStaleWhenARouteComesBack() throws Exception {
        JsonNode made = add("/a", "");
        String path =
                "/issuers/" + issuer + "/routes/" + made.path("now").path("id").asString();
        String etag = "\"" + made.path("now").path("version").asLong() + "\"";
        String body =
                ("{\"methods\":[\"GET\"],\"path\":\"/at-%s/a\",\"open\":true,\"fixed_response\":{\"status\":202,\"bod"
                                + "y\":\"x\"}}")
                        .formatted(issuer);
        assertThat(operator.send("PUT", path, etag, body).status()).isEqualTo(200);
        send("POST", "/revisions/1/restore?confirm=1", "{}");
        assertThat(status("/a")).isEqualTo(200);
        assertThat(operator.send("PUT", path, etag, body).status())
                .as("the condition of before")
                .isEqualTo(412);
    }

    @Test
    void withTheRoutesNoWithdrawalAndNoSwitchComesBack() throws Exception {
        send(
                "POST",
                "/routes",
                ("{\"methods\":[\"GET\"],\"path\":\"/at-%s/guarded\",\"api\":\"slips\",\"scopes\":[\"slips.read\"],\""
                                + "fixed_response\":{\"status\":200,\"body\":\"in\"}}")
                        .formatted(issuer));
        JsonNode client = send("POST", "/clients", "{\"name\":\"keeper\",\"scopes\":[\"slips.read\"]}")
                .json();
        send(
                "POST",
                "/approvals/"
                        + client.path("now").path("scopes").get(0).path("id").asString() + "/grant",
                "{}");
        JsonNode proof = Running.JSON.readTree("{\"client_id\":\"%s\",\"client_secret\":\"%s\"}"
                .formatted(
                        client.path("now").path("client_id").asString(),
                        client.path("secret").path("secret").asString()));
        String token = Wire.form(
                        demo.server() + "/" + issuer + "/token",
                        Wire.basic(proof),
                        "grant_type=client_credentials&scope=slips.read")
                .json()
                .path("access_token")
                .asString();
        String url = demo.gateway() + "/at-" + issuer + "/guarded";
        assertThat(Wire.call("GET", url, token).status()).isEqualTo(200);
        send("POST", "/clients/keeper/off", "{}");
        add("/more", "");
        send("POST", "/revisions/1/restore?confirm=1", "{}");
        assertThat(Wire.call("GET", url, token).status())
                .as("switched off is switched off")
                .isEqualTo(401);
    }

    @Test
    void whatLeansOnAnythingThatIsGoneStaysAway() throws Exception {
        JsonNode made = send(
                        "POST",
                        "/routes",
                        "{\"methods\":[\"GET\"],\"path\":\"/at-%s/g\",\"api\":\"slips\",\"scopes\":[\"slips.read\"]}"
                                .formatted(issuer))
                .json();
        send("DELETE", "/routes/" + made.path("now").path("id").asString(), null);
        assertThat(send("DELETE", "/apis/slips/scopes/slips.read", null).status())
                .isEqualTo(204);
        Wire.Answer refused = send("POST", "/revisions/1/restore?confirm=1", "{}");
        assertThat(refused.status()).isEqualTo(409);
        assertThat(refused.body()).contains("the scope slips.read is gone");
        assertThat(paths()).as("nothing is half done").isEmpty();
    }

    @Test
    void noIssuerTakesWhatAnotherHasMeanwhile() throws Exception {
        JsonNode made = add("/taken", "");
        send("DELETE", "/routes/" + made.path("now").path("id").asString(), null);
        String other = issuer + "-other";
        operator.post("/issuers", "{\"name\":\"%s\"}".formatted(other));
        assertThat(operator.post(
                                "/issuers/" + other + "/routes",
                                ("{\"methods\":[\"GET\"],\"path\":\"/at-%s/taken\",\"open\":true,"
                                                + "\"fixed_response\":{\"status\":200,\"body\":\"theirs\"}}")
                                        .formatted(issuer))
                        .status())
                .isEqualTo(201);
        assertThat(send("POST", "/revisions/1/restore?confirm=1", "{}").status())
                .isEqualTo(409);
        assertThat(Wire.get(demo.gateway() + "/at-" + issuer + "/taken").body()).isEqualTo("theirs");
    }

    @Test
    void noHostComesBackThatAnotherIssuerClaimedMeanwhile() throws Exception {
        String host = issuer + ".slipways.example";
        JsonNode made = send(
                        "POST",
                        "/routes",
                        "{\"methods\":[\"GET\"],\"path\":\"%s/x\",\"open\":true,\"fixed_response\":{\"body\":\"here\"}}"
                                .formatted(host))
                .json();
        send("DELETE", "/routes/" + made.path("now").path("id").asString(), null);
        operator.post("/issuers", "{\"name\":\"%s-owner\"}".formatted(issuer));
        assertThat(operator.send(
                                "PATCH", "/issuers/" + issuer + "-owner", "*", "{\"domains\":[\"%s\"]}".formatted(host))
                        .status())
                .isEqualTo(200);
        Wire.Answer refused = send("POST", "/revisions/1/restore?confirm=1", "{}");
        assertThat(refused.status()).as(refused.body()).isEqualTo(409);
        assertThat(refused.body()).contains("a domain of another issuer");
    }

    @Test
    void theCommandLineListsShowsAndBringsBack() throws Exception {
        add("/a", "to begin with");
        add("/b", "");
        assertThat(demo.admit("revision", "list", "--issuer", issuer).out())
                .contains("to begin with")
                .contains("added GET /at-" + issuer + "/b");
        assertThat(demo.admit("revision", "show", "1", "--issuer", issuer).out())
                .contains("/at-" + issuer + "/a")
                .doesNotContain("/at-" + issuer + "/b");
        assertThat(demo.admit("revision", "restore", "1", "--issuer", issuer, "--why", "too much")
                        .out())
                .contains("removed GET /at-" + issuer + "/b")
                .contains("live with revision 3");
        assertThat(paths()).containsExactly("/at-" + issuer + "/a");
    }
}
