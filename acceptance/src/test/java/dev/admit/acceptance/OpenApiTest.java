package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.sun.net.httpserver.HttpServer;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.Map;
import java.util.concurrent.atomic.AtomicReference;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.JsonNode;

/**
 * An API from its own OpenAPI document: proposed, loaded, called, shown to callers, held against its routes. What
 * others added would be among what it is held against, so this service is no other test's.
 */
class OpenApiTest {
    private static Running demo;
    private static Operator operator;
    private static HttpServer upstream;
    /** What the upstream serves at /openapi.yaml. */
    private static final AtomicReference<String> SERVED = new AtomicReference<>("");

    @TempDir
    static Path folder;

    @BeforeAll
    static void start() throws Exception {
        demo = Running.demo(folder);
        operator = Operator.of(demo);
        upstream = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        upstream.createContext("/", exchange -> {
            boolean document = exchange.getRequestURI().getPath().equals("/openapi.yaml");
            if (exchange.getRequestURI().getPath().equals("/moved"))
                exchange.getResponseHeaders().set("Location", "/openapi.yaml");
            byte[] body = (document
                            ? SERVED.get()
                            : exchange.getRequestURI().getPath().equals("/huge")
                                    ? "x".repeat(2_200_000)
                                    : "{\"path\":\"" + exchange.getRequestURI().getPath() + "\"}")
                    .getBytes(StandardCharsets.UTF_8);
            exchange.sendResponseHeaders(exchange.getRequestURI().getPath().equals("/moved") ? 302 : 200, body.length);
            exchange.getResponseBody().write(body);
            exchange.close();
        });
        upstream.start();
    }

    @AfterAll
    static void stop() {
        demo.close();
        upstream.stop(0);
    }

    private static String url(String path) {
        return "http://127.0.0.1:" + upstream.getAddress().getPort() + path;
    }

    /** @param api whose scopes it names */
    private static String document(String api, String more) {
        return """
                openapi: 3.1.0
                info: {title: Lamps of %1$s, version: "1.0"}
                servers: [{url: "%2$s"}]
                security: [{harbour: [%1$s.read]}]
                paths:
                  /lamps/{lampId}:
                    parameters: [{name: lampId, in: path, required: true, schema: {type: string}}]
                    get: {summary: See a lamp, responses: {"200": {description: ok}}}
                    put: {security: [{harbour: [%1$s.switch]}], responses: {"200": {description: ok}}}
                  /status:
                    get: {security: [], responses: {"200": {description: ok}}}
                %3$s
                components:
                  securitySchemes:
                    harbour:
                      type: oauth2
                      flows:
                        clientCredentials:
                          tokenUrl: https://x.example/token
                          scopes:
                            %1$s.read: See the lamps.
                            %1$s.switch: Switch lamps on and off.
                            %1$s.other: Unused.
                """.formatted(api, url("/"), more);
    }

    private static Wire.Answer load(String api, Map<String, Object> wanted) throws Exception {
        return operator.harbour("POST", "/apis/" + api + "/openapi/import", Running.JSON.writeValueAsString(wanted));
    }

    private static Wire.Answer check(String api, String document) throws Exception {
        return operator.harbour(
                "POST",
                "/apis/" + api + "/openapi/check",
                Running.JSON.writeValueAsString(document == null ? Map.of() : Map.of("document", document)));
    }

    @Test
    void fromADocumentToTheFirstCallAndAgainWhenItChanges() throws Exception {
        Wire.Answer told = load("lamps", Map.of("document", document("lamps", ""), "prefix", "/port"));
        assertThat(told.status()).as(told.body()).isEqualTo(200);
        assertThat(told.json().path("loaded").asBoolean()).isFalse();
        assertThat(told.json().path("steps").toString())
                .contains("API lamps", "scope lamps.read", "scope lamps.switch")
                .contains(
                        "route GET /port/lamps/{lamp_id}", "route PUT /port/lamps/{lamp_id}", "route GET /port/status")
                .contains("OpenAPI document of lamps")
                .doesNotContain("lamps.other");
        assertThat(told.json().path("notes").toString()).contains("GET /status asks for no token");
        assertThat(operator.harbour("GET", "/apis/lamps", null).status())
                .as("nothing is saved before it was looked at")
                .isEqualTo(404);

        Wire.Answer loaded = load("lamps", Map.of("document", document("lamps", ""), "prefix", "/port", "load", true));
        assertThat(loaded.json().path("steps")).isEqualTo(told.json().path("steps"));
        JsonNode api = operator.harbour("GET", "/apis/lamps", null).json();
        assertThat(api.path("upstream").asString()).isEqualTo(url(""));
        assertThat(api.path("openapi").path("operations").asInt()).isEqualTo(3);
        JsonNode read =
                operator.harbour("GET", "/apis/lamps/scopes/lamps.read", null).json();
        assertThat(read.path("effect").asString()).isEqualTo("reads");
        assertThat(read.path("approver").asString())
                .as("nothing is given away by a document")
                .isEqualTo("administrator");
        assertThat(read.path("consequence").asString()).isEqualTo("See the lamps.");

        JsonNode made = operator.harbour("POST", "/clients", "{\"name\":\"lamp-keeper\",\"scopes\":[\"lamps.read\"]}")
                .json();
        assertThat(demo.admit("approval", "grant", "lamp-keeper", "lamps.read").exitCode())
                .isZero();
        String token = Wire.form(
                        demo.ready().path("issuers").path("harbour").asString() + "/token",
                        Wire.basic(Running.JSON.valueToTree(Map.of(
                                "client_id",
                                made.path("now").path("client_id").asString(),
                                "client_secret",
                                made.path("secret").path("secret").asString()))),
                        "grant_type=client_credentials&scope=lamps.read")
                .json()
                .path("access_token")
                .asString();
        Wire.Answer call =
                Wire.send("GET", demo.gateway() + "/port/lamps/n1", Map.of("Authorization", "Bearer " + token), null);
        assertThat(call.status()).as(call.body()).isEqualTo(200);
        assertThat(call.body()).isEqualTo("{\"path\":\"/lamps/n1\"}");
        assertThat(Wire.send("PUT", demo.gateway() + "/port/lamps/n1", Map.of("Authorization", "Bearer " + token), "{}")
                        .status())
                .isEqualTo(403);
        assertThat(Wire.send("GET", demo.gateway() + "/port/status", Map.of(), null)
                        .status())
                .isEqualTo(200);

        Wire.Answer same = load("lamps", Map.of("document", document("lamps", ""), "prefix", "/port"));
        assertThat(same.json().path("steps")).isEmpty();
        assertThat(check("lamps", null).body()).contains("\"agrees\":true");

        // Limits that an owner set outlive a document that asks for another scope.
        assertThat(operator.harbour(
                                "PATCH",
                                "/routes/" + routeId("/port/lamps/{lamp_id}", "GET"),
                                "{\"limits\":{\"rates\":[\"50 per 1m by client\"]}}")
                        .status())
                .isEqualTo(200);
        String changed = document("lamps", "  /keepers: {get: {responses: {\"200\": {description: ok}}}}")
                .replace("get: {summary: See a lamp,", "get: {security: [{harbour: [lamps.switch]}],")
                .replace("/status:", "/state:");
        Wire.Answer differs = operator.harbour(
                "POST",
                confirmed("lamps"),
                Running.JSON.writeValueAsString(Map.of("document", changed, "prefix", "/port", "load", true)));
        assertThat(differs.json().path("steps").toString())
                .contains("route GET /port/keepers", "route GET /port/state")
                .contains("\"changed\",\"what\":\"route GET /port/lamps/{lamp_id}\"")
                .doesNotContain("PUT /port");
        assertThat(differs.json().path("gone").toString()).isEqualTo("[\"GET /port/status\"]");
        JsonNode route = operator.harbour("GET", "/routes/" + routeId("/port/lamps/{lamp_id}", "GET"), null)
                .json();
        assertThat(route.path("scopes").toString()).isEqualTo("[\"lamps.switch\"]");
        assertThat(route.path("limits").path("rates").toString()).contains("50 per 1m");
        assertThat(check("lamps", document("lamps", ""))
                        .json()
                        .path("otherwise")
                        .toString())
                .contains(
                        "\"operation\":\"GET /lamps/{lampId}\"",
                        "\"wanted\":\"lamps.switch\"",
                        "\"promised\":\"lamps.read\"");
    }

    private static String routeId(String path, String method) throws Exception {
        for (JsonNode it :
                operator.harbour("GET", "/routes?limit=200", null).json().path("items"))
            if (it.path("path").asString().equals(path)
                    && it.path("methods").toString().contains(method))
                return it.path("id").asString();
        throw new AssertionError("no route " + method + " " + path);
    }

    @Test
    void callersSeeWhatTheRoutesReallyWantAndNothingThatIsNotReached() throws Exception {
        JsonNode document = operator.harbour("GET", "/apis/tides/openapi", null).json();
        assertThat(document.path("servers").toString()).contains("localhost:" + demo.gatewayPort);
        assertThat(document.path("paths").propertyNames())
                .containsExactly("/tides", "/tides/{gaugeName}", "/tides/readings");
        assertThat(document.path("paths")
                        .path("/tides/readings")
                        .path("post")
                        .path("security")
                        .toString())
                .isEqualTo("[{\"oauth2\":[\"tides.publish\"]},{\"openIdConnect\":[\"tides.publish\"]}]");
        assertThat(document.path("paths")
                        .path("/tides/{gaugeName}")
                        .path("parameters")
                        .toString())
                .contains("gaugeName");
        JsonNode schemes = document.path("components").path("securitySchemes");
        String issuer = demo.ready().path("issuers").path("harbour").asString();
        assertThat(schemes.path("openIdConnect").path("openIdConnectUrl").asString())
                .isEqualTo(issuer + "/.well-known/openid-configuration");
        assertThat(schemes.path("oauth2")
                        .path("flows")
                        .path("clientCredentials")
                        .path("tokenUrl")
                        .asString())
                .isEqualTo(issuer + "/token");
        assertThat(schemes.path("harbour").isMissingNode()).isTrue();
        assertThat(document.path("components").path("schemas").path("Reading").isObject())
                .isTrue();

        JsonNode told = check("tides", null).json();
        assertThat(told.path("wider").toString()).isEqualTo("[\"GET /boards/**\",\"GET /tides/**\"]");
        assertThat(told.path("not_promised").toString()).isEqualTo("[\"GET /received\"]");
        Running.Said said = demo.admit("route", "check-against", "--api", "tides");
        assertThat(said.exitCode()).isEqualTo(1);
        assertThat(said.out()).contains("Let through, and not promised:", "GET /received");

        JsonNode plain = operator.harbour("GET", "/apis/berths/openapi", null).json();
        assertThat(plain.path("paths")
                        .path("/berths/{berth}/bookings")
                        .path("post")
                        .path("security")
                        .toString())
                .contains("berths.book");
        assertThat(check("berths", null).status()).as("it has none").isEqualTo(422);
        JsonNode unreached = check("berths", document("berths", "")).json();
        assertThat(unreached.path("not_reached").toString()).contains("GET /lamps/{lampId}", "GET /status");
    }

    @Test
    void aDocumentAtTheUpstreamIsLoadedAsItWasLookedAt() throws Exception {
        SERVED.set(document("beacons", ""));
        Map<String, Object> wanted =
                new HashMap<>(Map.of("url", url("/openapi.yaml"), "prefix", "/beacons", "upstream", url("/")));
        Wire.Answer told = load("beacons", wanted);
        assertThat(told.status()).as(told.body()).isEqualTo(200);
        wanted.put("load", true);
        Wire.Answer unseen = load("beacons", wanted);
        assertThat(unseen.status()).as("nobody said which was looked at").isEqualTo(422);
        assertThat(unseen.json().path("faults").toString()).contains("/sha256");

        wanted.put("sha256", told.json().path("sha256").asString());
        SERVED.set(document("beacons", "").replace("get: {summary: See a lamp,", "get: {security: [],"));
        assertThat(load("beacons", wanted).status())
                .as("another one by now, which opens a route")
                .isEqualTo(422);
        assertThat(operator.harbour("GET", "/apis/beacons", null).status()).isEqualTo(404);
        SERVED.set(document("beacons", ""));
        assertThat(load("beacons", wanted).status()).isEqualTo(200);

        Path file = folder.resolve("beacons.yaml");
        Files.writeString(file, document("beacons", ""));
        Running.Said said = demo.admit("api", "import", "beacons", file.toString(), "--prefix", "/beacons");
        assertThat(said.out()).contains("Nothing differs from the document.");
        assertThat(demo.admit("api", "openapi", "beacons").json().path("paths").propertyNames())
                .containsExactly("/beacons/lamps/{lampId}", "/beacons/status");
        assertThat(demo.admit("route", "check-against", file.toString()).exitCode())
                .isZero();
    }

    @ParameterizedTest(name = "{0}")
    @CsvSource(delimiter = '|', textBlock = """
            an address elsewhere         | http://127.0.0.2:9/openapi.json   | an address at the API's upstream
            another port here            | http://127.0.0.1:1/openapi.json   | an address at the API's upstream
            a file                       | file:///etc/passwd                | http
            up and out                   | {upstream}/../x                   | /url
            an answer that leads on      | {upstream}/moved                  | a document that can be fetched
            an answer without an end     | {upstream}/huge                   | a document that can be fetched
            what is no document          | {upstream}/other                  | 3.0.x or 3.1.x
            """)
    void noDocumentComesFromElsewhere(String what, String address, String expected) throws Exception {
        Wire.Answer answer =
                load("elsewhere", Map.of("url", address.replace("{upstream}", url("")), "upstream", url("/")));
        assertThat(answer.status()).as(answer.body()).isEqualTo(422);
        assertThat(answer.body()).contains(expected);
    }

    @Test
    void aDocumentOpensNothingThatIsAdmitsOwnAndIsTakenWholeOrNotAtAll() throws Exception {
        for (String path : new String[] {"/_admit/proof-keys", "/.well-known/jwks.json", "/a/{x}.json", "/a//b"}) {
            Wire.Answer own = load(
                    "sly",
                    Map.of(
                            "document",
                            document(
                                    "sly",
                                    "  \"%s\": {get: {responses: {\"200\": {description: ok}}}}".formatted(path))));
            assertThat(own.status()).as(own.body()).isEqualTo(200);
            assertThat(own.json().path("notes").toString()).contains("GET " + path + " is left out");
        }
        for (String scope : new String[] {"admit:run", "openid", "tides.read"}) {
            Wire.Answer answer = load(
                    "sly",
                    Map.of("document", document("sly", "").replace("sly.switch", "\"" + scope + "\""), "load", true));
            assertThat(answer.status()).as(answer.body()).isEqualTo(422);
            assertThat(answer.json().path("faults").toString()).contains("/document", scope);
            assertThat(operator.harbour("GET", "/apis/sly", null).status())
                    .as("nothing half-made")
                    .isEqualTo(404);
        }
        assertThat(load("sly", Map.of("document", document("sly", ""), "prefix", "/_admit"))
                        .json()
                        .toString())
                .contains("/prefix");
        assertThat(load("sly", Map.of()).json().path("faults").toString()).contains("a document or a url");
        assertThat(operator.post("/issuers/admit/apis/sly/openapi/import", "{\"document\":\"x\"}")
                        .status())
                .isEqualTo(409);
    }

    private static String confirmed(String api) {
        return "/apis/" + api + "/openapi/import?confirm=" + api;
    }

    /** What a document lets pass that is refused now is said, and wants a word, as by hand. */
    @Test
    void aDocumentThatLetsMorePassWantsAWord() throws Exception {
        String first = document("gates", "").replace("[]", "[{harbour: [gates.read, gates.switch]}]");
        Map<String, Object> wanted = new HashMap<>(Map.of("document", first, "prefix", "/gates", "load", true));
        assertThat(load("gates", wanted).status()).isEqualTo(200);
        for (String weaker : new String[] {"[]", "[{harbour: [gates.read]}]", "[{harbour: []}]"}) {
            wanted.put("document", document("gates", "").replace("security: []", "security: " + weaker));
            wanted.remove("load");
            assertThat(load("gates", wanted).body()).as("told before").contains("lets more pass");
            wanted.put("load", true);
            Wire.Answer refused = load("gates", wanted);
            assertThat(refused.status()).as("%s: %s", weaker, refused.body()).isEqualTo(409);
            assertThat(refused.json().path("confirm").asString()).isEqualTo("gates");
            assertThat(refused.json().path("would_break").toString()).contains("GET /status");
            assertThat(operator.harbour("GET", "/routes/" + routeId("/gates/status", "GET"), null)
                            .json()
                            .path("scopes")
                            .toString())
                    .isEqualTo("[\"gates.read\",\"gates.switch\"]");
        }
        wanted.put("document", document("gates", ""));
        assertThat(operator.harbour("POST", confirmed("gates"), Running.JSON.writeValueAsString(wanted))
                        .status())
                .isEqualTo(200);
        assertThat(Wire.send("GET", demo.gateway() + "/gates/status", Map.of(), null)
                        .status())
                .isEqualTo(200);

        // An API at the same upstream takes nothing of it.
        Wire.Answer neighbour =
                load("gate-lamps", Map.of("document", document("gate-lamps", ""), "upstream", url("/")));
        assertThat(neighbour.json().path("steps").toString()).doesNotContain("/gates/");

        // And the other way: what was open asks for a token from now on, without a word.
        wanted.put("document", first);
        assertThat(load("gates", wanted).json().path("steps").toString()).contains("route GET /gates/status");
        assertThat(Wire.send("GET", demo.gateway() + "/gates/status", Map.of(), null)
                        .status())
                .isEqualTo(401);
    }

    /** A route for one operation beneath a wider route takes over who may pass there and what limits them. */
    @Test
    void aNarrowerRouteKeepsTheCallersAndLimitsOfTheWider() throws Exception {
        assertThat(load("locks-of", Map.of("document", document("locks-of", ""), "prefix", "/none", "load", true))
                        .status())
                .isEqualTo(200);
        assertThat(operator.harbour("POST", "/routes", """
                {"path":"/lamps/**","methods":["GET"],"api":"locks-of","scopes":["locks-of.read"],\
                "who":{"for":"people"},"limits":{"rates":["7 per 1m by client"]}}""").status()).isEqualTo(201);
        String switched = document("locks-of", "")
                .replace("get: {summary: See a lamp,", "get: {security: [{harbour: [locks-of.switch]}],")
                .replace("[]", "[{harbour: [locks-of.switch]}]");
        Wire.Answer loaded = operator.harbour(
                "POST",
                confirmed("locks-of"),
                Running.JSON.writeValueAsString(Map.of("document", switched, "prefix", "/lamps/..", "load", true)));
        assertThat(loaded.status()).as("dots lead nowhere").isEqualTo(422);
        loaded = operator.harbour(
                "POST",
                confirmed("locks-of"),
                Running.JSON.writeValueAsString(Map.of("document", switched, "load", true)));
        assertThat(loaded.status()).as(loaded.body()).isEqualTo(200);
        JsonNode route = operator.harbour("GET", "/routes/" + routeId("/lamps/{lamp_id}", "GET"), null)
                .json();
        assertThat(route.path("scopes").toString()).isEqualTo("[\"locks-of.switch\"]");
        assertThat(route.path("who").path("for").asString()).isEqualTo("people");
        assertThat(route.path("limits").path("rates").toString()).contains("7 per 1m by client");
    }

    @Test
    void aPrefixIsAPathAndNoHost() throws Exception {
        Wire.Answer answer =
                load("hosted", Map.of("document", document("hosted", ""), "prefix", "elsewhere.example/hosted"));
        assertThat(answer.status()).as(answer.body()).isEqualTo(422);
        assertThat(answer.json().path("faults").toString()).contains("/prefix");
    }

    /** A document that names the paths of another API takes none of them, whatever its parameters are called. */
    @Test
    void noDocumentTakesARouteFromAnotherApi() throws Exception {
        JsonNode before = operator.harbour("GET", "/routes/" + routeId("/berths/{berth}/ship", "PUT"), null)
                .json();
        for (String name : new String[] {"berth", "ship"}) {
            Wire.Answer answer = load(
                    "sly",
                    Map.of(
                            "document",
                            document(
                                    "sly",
                                    "  /berths/{%s}/ship: {put: {responses: {\"200\": {description: ok}}}}"
                                            .formatted(name))));
            assertThat(answer.status()).as(answer.body()).isEqualTo(200);
            assertThat(answer.json().path("steps").toString()).doesNotContain("/berths/");
            assertThat(answer.json().path("notes").toString()).contains("PUT /berths/{berth}/ship answers there");
        }
        assertThat(operator.harbour("GET", "/routes/" + before.path("id").asString(), null)
                        .json())
                .isEqualTo(before);
    }

    @Test
    void theDocumentIsInTheSetupFileAndGoesByIt() throws Exception {
        assertThat(load("buoys", Map.of("document", document("buoys", ""), "prefix", "/buoys", "load", true))
                        .status())
                .isEqualTo(200);
        String file = demo.admit("setup", "export", "--api", "buoys").out();
        assertThat(file).contains("openapi:", "title: Lamps of buoys");
        Wire.Answer again =
                operator.harbour("POST", "/setup/compare", Running.JSON.writeValueAsString(Map.of("file", file)));
        assertThat(again.json().path("steps")).isEmpty();
        Wire.Answer none = operator.harbour(
                "POST",
                "/setup/load",
                Running.JSON.writeValueAsString(Map.of("file", "issuer: harbour\napis:\n  buoys:\n    openapi: {}\n")));
        assertThat(none.json().path("steps").toString()).contains("removed", "OpenAPI document of buoys");
        assertThat(operator.harbour("GET", "/apis/buoys", null)
                        .json()
                        .path("openapi")
                        .isNull())
                .isTrue();
        Wire.Answer bad = operator.harbour(
                "POST",
                "/setup/load",
                Running.JSON.writeValueAsString(
                        Map.of("file", "issuer: harbour\napis:\n  buoys:\n    openapi: {openapi: 2.0.0}\n")));
        assertThat(bad.status()).isEqualTo(422);
        assertThat(bad.json().path("faults").toString()).contains("/apis/buoys/openapi/openapi");
    }
}
