package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.parallel.ResourceLock;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** A change keeps what it does not name, says what went, and lets no more pass without a word of confirmation. */
@ResourceLock(Running.DEMO)
class ChangesKeepTest {
    private static final String PATH = "/kept/{gauge}";
    private static Running demo;
    private static Operator operator;
    private static String route;

    @BeforeAll
    static void start() throws Exception {
        demo = Running.demo();
        operator = Operator.of(demo);
        done(
                "route",
                "add",
                "GET",
                PATH,
                "--api",
                "tides",
                "--scope",
                "tides.read",
                "--client",
                "tide-buoy-07",
                "--for",
                "clients",
                "--condition",
                "method == 'GET'",
                "--rate",
                "60 per 1m by client",
                "--quota",
                "1000 per month by client",
                "--concurrent",
                "7",
                "--request-header",
                "X-Gauge={{path.gauge}}",
                "--drop-response-header",
                "X-Secret",
                "--idle-timeout",
                "5s");
        route = operator.harbour("GET", "/routes?limit=200", null)
                .json()
                .path("items")
                .valueStream()
                .filter(it -> it.path("path").asString().equals(PATH))
                .findFirst()
                .orElseThrow()
                .path("id")
                .asString();
    }

    @AfterAll
    static void stop() throws Exception {
        done("route", "remove", "GET", PATH);
    }

    private static Running.Said done(String... words) throws Exception {
        Running.Said said = demo.admit(words);
        assertThat(said.exitCode())
                .as("%s: %s%s", String.join(" ", words), said.out(), said.err())
                .isZero();
        return said;
    }

    private static JsonNode now() throws Exception {
        return operator.harbour("GET", "/routes/" + route, null).json();
    }

    /** What there is but for some members. */
    private static JsonNode without(JsonNode thing, String... members) {
        return ((ObjectNode) thing.deepCopy()).remove(List.of(members));
    }

    @Test
    void aRouteKeepsWhatAChangeDoesNotName() throws Exception {
        JsonNode before = now();
        done("route", "change", "GET", PATH, "--cors", "--confirm", PATH);
        assertThat(without(now(), "cors", "sentences", "version"))
                .isEqualTo(without(before, "cors", "sentences", "version"));
        assertThat(now().path("cors").asBoolean()).isTrue();
        done("route", "change", "GET", PATH, "--no-cors");
        assertThat(without(now(), "version")).isEqualTo(without(before, "version"));
        JsonNode deep = operator.harbour(
                        "PATCH", "/routes/" + route, "{\"limits\":{\"concurrent\":3},\"who\":{\"for\":\"clients\"}}")
                .json()
                .path("now");
        assertThat(deep.path("limits").path("concurrent").asInt()).isEqualTo(3);
        assertThat(without(deep, "limits", "sentences", "version"))
                .isEqualTo(without(before, "limits", "sentences", "version"));
        assertThat(without(deep.path("limits"), "concurrent")).isEqualTo(without(before.path("limits"), "concurrent"));
        assertThat(operator.harbour(
                                "PATCH",
                                "/routes/" + route + "?confirm=%2Fkept%2F%7Bgauge%7D",
                                "{\"limits\":{\"concurrent\":7}}")
                        .status())
                .isEqualTo(200);
    }

    @Test
    void aScopeKeepsItsConsequence() throws Exception {
        done(
                "scope",
                "add",
                "tides",
                "tides.kept",
                "--effect",
                "reads",
                "--reach",
                "everyone",
                "--for",
                "both",
                "--consequence",
                "See what is kept.");
        JsonNode before =
                operator.harbour("GET", "/apis/tides/scopes/tides.kept", null).json();
        assertThat(before.path("consequence").asString()).isEqualTo("See what is kept.");
        done("scope", "change", "tides", "tides.kept", "--by-role");
        assertThat(without(
                        operator.harbour("GET", "/apis/tides/scopes/tides.kept", null)
                                .json(),
                        "by_role",
                        "version"))
                .isEqualTo(without(before, "by_role", "version"));
        done("scope", "remove", "tides", "tides.kept");
    }

    @ParameterizedTest(name = "{0}: {1}")
    @CsvSource(delimiter = '|', textBlock = """
            {"limits":{"rates":null}}          | No rate limit of 60 per 1m by client any more.
            {"limits":null}                    | No quota of 1000 per month by client any more.
            {"limits":{"concurrent":8}}           | 8 concurrent requests pass, not only 7.
            {"who":null}                       | Any client passes, not only tide-buoy-07.
            {"who":{"condition":null}}              | No condition has to be met any more; it was: method == 'GET'
            {"who":{"clients":["tide-buoy-07","old-crane"]}} | The client old-crane passes too.
            {"who":{"issuers":["harbour","coastguard"]}}     | Tokens of coastguard pass too.
            {"scopes":null,"any_scope":true}   | Any token of the API passes, whatever its scope.
            {"methods":["GET","PUT"]}          | PUT reaches it too.
            {"path":"/kept/{gauge}/more"}      | Requests for /kept/{gauge}/more reach it; those for /kept/{gauge} do \
            not any more.
            {"cors":true}                      | Pages of browser clients may call it.
            {"open":true,"api":null,"scopes":null,"mode":null,"who":null,"limits":null,\
            "transform":{"set_on_request":null},"upstream":"http://127.0.0.1:1"} | Anyone passes, without a token.""")
    void whatLetsMorePassIsNotMadeWithoutItsWord(String patch, String said) throws Exception {
        JsonNode before = now();
        for (String word : new String[] {"", "?confirm=yes"}) {
            Wire.Answer refused = operator.harbour("PATCH", "/routes/" + route + word, patch);
            assertThat(refused.status()).as(refused.body()).isEqualTo(409);
            assertThat(refused.json().path("reason").asString()).isEqualTo("needs-confirmation");
            assertThat(refused.json().path("confirm").asString()).isEqualTo(PATH);
            assertThat(refused.json().path("would_break").valueStream().map(JsonNode::asString))
                    .contains(said);
        }
        assertThat(now()).isEqualTo(before);
        Wire.Answer made = operator.harbour("PATCH", "/routes/" + route + "?confirm=" + Wire.encoded(PATH), patch);
        assertThat(made.status()).as(made.body()).isEqualTo(200);
        assertThat(made.json().path("notes").valueStream().map(JsonNode::asString))
                .contains(said);
        ObjectNode back = (ObjectNode) before.deepCopy();
        back.remove(List.of("id", "version", "created_at", "sentences"));
        Wire.Answer put = operator.harbour(
                "PUT",
                "/routes/" + route + "?confirm="
                        + Wire.encoded(made.json().path("now").path("path").asString()),
                back.toString());
        assertThat(put.status()).as(put.body()).isEqualTo(200);
        assertThat(without(now(), "version")).isEqualTo(without(before, "version"));
    }

    @Test
    void aWholeRouteThatIsPutIsAskedAboutToo() throws Exception {
        Wire.Answer put = operator.harbour(
                "PUT",
                "/routes/" + route,
                "{\"methods\":[\"GET\"],\"path\":\"%s\",\"api\":\"tides\",\"scopes\":[\"tides.read\"]}"
                        .formatted(PATH));
        assertThat(put.status()).isEqualTo(409);
        assertThat(put.body())
                .contains(
                        "No rate limit of 60 per 1m by client any more.", "Any client passes, not only tide-buoy-07.");
    }

    @Test
    void aRevisionThatLetsMorePassIsBroughtBackWithItsWordAlone() throws Exception {
        done("route", "add", "GET", "/loose/**", "--api", "tides", "--scope", "tides.read");
        String number = operator.harbour("GET", "/revisions?limit=1", null)
                .json()
                .path("items")
                .get(0)
                .path("number")
                .asString();
        done("route", "change", "GET", "/loose/**", "--client", "tide-buoy-07");
        Running.Said refused = demo.admit("revision", "restore", number);
        assertThat(refused.exitCode()).isEqualTo(1);
        assertThat(refused.err())
                .contains("GET /loose/**: Any client passes, not only tide-buoy-07.", "--confirm " + number);
        done("revision", "restore", number, "--confirm", number);
        done("route", "remove", "GET", "/loose/**");
    }

    @Test
    void listsAreAddedToAndTakenFromOnTheCommandLine() throws Exception {
        assertThat(done("route", "change", "GET", PATH, "--add-client", "old-crane", "--confirm", PATH)
                        .out())
                .contains("The client old-crane passes too.");
        assertThat(now().path("who").path("clients").toString()).contains("tide-buoy-07", "old-crane");
        done("route", "change", "GET", PATH, "--remove-client", "old-crane", "--add-request-header", "X-Other=b");
        assertThat(now().path("who").path("clients").toString()).isEqualTo("[\"tide-buoy-07\"]");
        assertThat(now().path("transform").path("set_on_request").toString()).contains("X-Gauge", "X-Other");
        assertThat(done("route", "change", "GET", PATH, "--remove-request-header", "X-Other")
                        .out())
                .contains("The request does not get X-Other any more.");
        assertThat(now().path("transform").path("set_on_request").toString())
                .isEqualTo("{\"X-Gauge\":\"{{path.gauge}}\"}");
        operator.harbour(
                "POST",
                "/clients",
                "{\"name\":\"kept-desk\",\"kind\":\"web\",\"redirect_uris\":[\"https://desk.saltmarsh.example/back\""
                        + "],\"tags\":[\"desk\"]}");
        done(
                "client",
                "change",
                "kept-desk",
                "--add-redirect-uri",
                "https://desk.saltmarsh.example/other",
                "--add-tag",
                "quay",
                "--remove-tag",
                "desk");
        JsonNode client = operator.harbour("GET", "/clients/kept-desk", null).json();
        assertThat(client.path("redirect_uris").toString()).contains("/back", "/other");
        assertThat(client.path("tags").toString()).isEqualTo("[\"quay\"]");
        assertThat(done("client", "change", "kept-desk", "--redirect-uri", "https://desk.saltmarsh.example/third")
                        .out())
                .contains("No longer there: the redirect URI https://desk.saltmarsh.example/back, "
                        + "https://desk.saltmarsh.example/other.");
        Running.Said missing = demo.admit("client", "change", "kept-desk", "--remove-tag", "lamp");
        assertThat(missing.exitCode()).isEqualTo(1);
        assertThat(missing.err()).contains("'lamp' is not there", "quay");
        Running.Said both = demo.admit("client", "change", "kept-desk", "--tag", "a", "--add-tag", "b");
        assertThat(both.exitCode()).isEqualTo(2);
        assertThat(both.err()).contains("--tag", "--add-tag");
        assertThat(done("client", "change", "--help").out()).contains("--add-contact");
        operator.harbour("DELETE", "/clients/kept-desk?confirm=kept-desk", null);
    }

    @Test
    void pairsOfATrustedIssuerStayWhenOneIsAdded() throws Exception {
        JsonNode before =
                operator.harbour("GET", "/trusted-issuers/coastguard", null).json();
        done("trusted-issuer", "change", "coastguard", "--add-scope", "sea.extra=tides.publish");
        JsonNode after =
                operator.harbour("GET", "/trusted-issuers/coastguard", null).json();
        assertThat(without(after.path("scopes"), "sea.extra")).isEqualTo(before.path("scopes"));
        assertThat(after.path("clients")).isEqualTo(before.path("clients"));
        assertThat(done("trusted-issuer", "change", "coastguard", "--remove-scope", "sea.extra")
                        .out())
                .contains("No longer there: the scope that counted as one of ours sea.extra.");
        assertThat(operator.harbour("GET", "/trusted-issuers/coastguard", null)
                        .json()
                        .path("scopes"))
                .isEqualTo(before.path("scopes"));
    }

    @Test
    void rolesOfAPersonAndClaimsOfAnApiAreAddedTo() throws Exception {
        done("person", "change", "tobias.wren@saltmarsh.example", "--add-role", "harbour-master");
        assertThat(operator.harbour("GET", "/people/tobias.wren@saltmarsh.example", null)
                        .json()
                        .path("roles")
                        .toString())
                .contains("pilot")
                .contains("harbour-master");
        assertThat(done("person", "change", "tobias.wren@saltmarsh.example", "--remove-role", "harbour-master")
                        .out())
                .contains("No longer there: the role harbour-master.");
        operator.harbour(
                "PATCH",
                "/apis/manifests/minting",
                "{\"claims\":[{\"name\":\"tags\",\"expression\":\"client.tags\"}]}");
        done("api", "minting", "manifests", "--add-claim", "tries=scopes");
        assertThat(done("api", "minting", "manifests", "--remove-claim", "tries")
                        .out())
                .contains("tags = client.tags")
                .doesNotContain("tries");
        operator.harbour("PATCH", "/apis/manifests/minting", "{\"claims\":[]}");
    }

    @Test
    void aNullTakesAMemberAwayAndAFlagIsNotTakenAway() throws Exception {
        operator.harbour("PATCH", "/clients/old-crane", "{\"description\":\"Lifts\",\"tags\":[\"crane\"]}");
        JsonNode gone = operator.harbour("PATCH", "/clients/old-crane", "{\"description\":null,\"tags\":null}")
                .json()
                .path("now");
        assertThat(gone.path("description").asString()).isEmpty();
        assertThat(gone.path("tags")).isEmpty();
        Wire.Answer flag = operator.harbour("PATCH", "/clients/old-crane", "{\"second_factor\":null}");
        assertThat(flag.status()).isEqualTo(422);
        assertThat(flag.body()).contains("/second_factor", "Leave it out to keep what is there.");
    }

    @ParameterizedTest(name = "{0} {1}")
    @CsvSource({"--open, --api, tides", "--fixed-response, --upstream, http://127.0.0.1:1"})
    void optionsThatContradictAreRefusedWithBothNamed(String one, String other, String value) throws Exception {
        List<String> words = new java.util.ArrayList<>(List.of("route", "add", "GET", "/contradiction"));
        words.add(one);
        if (one.equals("--fixed-response")) words.add("text");
        words.addAll(List.of(other, value));
        Running.Said said = demo.admit(words.toArray(String[]::new));
        assertThat(said.exitCode()).isEqualTo(2);
        assertThat(said.err()).contains(one).contains(other);
    }

    @ParameterizedTest(name = "{0}")
    @CsvSource(delimiter = '|', textBlock = """
            {"path":"/x","open":true,"api":"tides","upstream":"http://127.0.0.1:1"}                      | open or api
            {"path":"/x","open":true,"any_scope":true,"upstream":"http://127.0.0.1:1"}                   | open or \
            any_scope
            {"path":"/x","open":true,"fixed_response":{"body":"a"},"transform":{"path":"/v2"}}                     | \
            fixed_response or \
            transform/path
            {"path":"/x","open":true,"fixed_response":{"body":"a"},"timeouts":{"idle":"2s"}}                   | \
            fixed_response or \
            timeouts
            {"path":"/x","api":"tides","scopes":["tides.read"],"who":{"for":"clients","sign_in":"berth-desk"}} | \
            sign_in or for""")
    void membersThatContradictAreRefusedWithBothNamed(String body, String named) throws Exception {
        Wire.Answer refused = operator.harbour("POST", "/routes", body);
        assertThat(refused.status()).as(refused.body()).isEqualTo(422);
        assertThat(refused.body()).contains(named);
    }

    @Test
    void nobodyButAnOperatorChangesARoute() throws Exception {
        for (String header : new String[] {"", "Bearer " + Wire.token(demo, "tide-buoy-07", "&scope=tides.read")}) {
            Map<String, String> headers =
                    new java.util.HashMap<>(Map.of("Content-Type", "application/json", "If-Match", "*"));
            if (!header.isEmpty()) headers.put("Authorization", header);
            assertThat(Wire.send(
                                    "PATCH",
                                    demo.ready().path("admin_api").asString() + "/issuers/harbour/routes/" + route,
                                    headers,
                                    "{\"cors\":true}")
                            .status())
                    .isEqualTo(401);
        }
    }
}
