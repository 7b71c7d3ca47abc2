package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.sun.net.httpserver.HttpServer;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Executors;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.parallel.ResourceLock;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** The borders between what shares a host: two planes, several issuers, upstreams and the pages of others. */
@ResourceLock(Running.DEMO)
class BordersTest {
    private static Running demo;
    private static Operator operator;
    private static HttpServer upstream;
    private static volatile List<String> planted = List.of();

    @BeforeAll
    static void start() throws Exception {
        demo = Running.demo();
        operator = Operator.of(demo);
        upstream = HttpServer.create(new InetSocketAddress("127.0.0.1", 0), 0);
        upstream.setExecutor(Executors.newVirtualThreadPerTaskExecutor());
        upstream.createContext("/", exchange -> {
            try (exchange) {
                exchange.getResponseHeaders().set("Content-Type", "text/html");
                exchange.getResponseHeaders().set("Cache-Control", "public, max-age=600");
                planted.forEach(it -> exchange.getResponseHeaders().add("Set-Cookie", it));
                byte[] body = exchange.getRequestHeaders().entrySet().toString().getBytes(StandardCharsets.UTF_8);
                exchange.sendResponseHeaders(200, body.length);
                exchange.getResponseBody().write(body);
            }
        });
        upstream.start();
        route(
                "harbour",
                ("\"path\":\"/borders/**\","
                                + "\"open\":true,\"upstream\":\"%s\",\"transform\":{\"set_on_request\":{\"X-Tenant\""
                                + ":\"ours\"},\"removed_on_request\":[\"X-Debug\"],\"renamed_on_request\":"
                                + "{\"X-Old\":\""
                                + "X-New\"}}")
                        .formatted(url()));
    }

    @AfterAll
    static void stop() {
        upstream.stop(0);
    }

    private static String url() {
        return "http://127.0.0.1:" + upstream.getAddress().getPort();
    }

    private static void route(String issuer, String members) throws Exception {
        Wire.Answer made = operator.post("/issuers/" + issuer + "/routes", "{" + members + "}");
        assertThat(made.status()).as(made.body()).isEqualTo(201);
    }

    // Cookies.

    @Test
    void noUpstreamSeesTheCookiesOfThePagesOrTheConsole() throws Exception {
        String seen = Wire.send(
                        "GET",
                        demo.gateway() + "/borders/x",
                        Map.of(
                                "Cookie",
                                "theirs=kept; admit-harbour=secret; admit_console=secret; "
                                        + "__Host-admit-harbour=secret; admit_console_way=secret"),
                        null)
                .body();
        assertThat(seen).contains("theirs=kept").doesNotContain("secret");
    }

    @Test
    void noUpstreamPlantsOne() throws Exception {
        planted = List.of(
                "admit-harbour=planted; Path=/harbour",
                "admit_console=planted; Path=/console",
                "=admit_console=planted",
                "admit_session_00=planted",
                "theirs=kept; Path=/");
        try {
            assertThat(Wire.get(demo.gateway() + "/borders/x")
                            .response()
                            .headers()
                            .allValues("Set-Cookie"))
                    .containsExactly("theirs=kept; Path=/");
        } finally {
            planted = List.of();
        }
    }

    @ParameterizedTest
    @ValueSource(strings = {"/harbour/x", "/gullwing", "/admit/x", "/console/_/api", "/admin/issuers", "/%68arbour/x"})
    void whereBrowsersHoldThoseCookiesNoRouteAnswers(String path) throws Exception {
        String issuer = path.startsWith("/%") ? "harbour" : path.split("/")[1];
        Wire.Answer refused = operator.harbour(
                "POST",
                "/routes",
                "{\"path\":\"/%s/**\",\"open\":true,\"fixed_response\":{\"body\":\"mine\"}}".formatted(issuer));
        assertThat(refused.status()).as(refused.body()).isEqualTo(422);
        Wire.Answer answer = Wire.get(demo.gateway() + path);
        assertThat(answer.status()).isEqualTo(404);
        assertThat(operator.decision(answer).path("checks").toString()).contains("the authorization server's");
    }

    @Test
    void anIssuerDoesNotTakeTheNameOfAPathThatIsThere() throws Exception {
        Wire.Answer refused = operator.post("/issuers", "{\"name\":\"tides\"}");
        assertThat(refused.status()).isEqualTo(409);
        assertThat(refused.body()).contains("no route");
    }

    @Test
    void theTwoPlanesAreCalledByTwoNames() {
        assertThat(java.net.URI.create(demo.ready().path("gateway").asString()).getHost())
                .isNotEqualTo(java.net
                        .URI
                        .create(demo.ready().path("issuers").path("harbour").asString())
                        .getHost());
    }

    // Hosts.

    @ParameterizedTest
    @ValueSource(strings = {"localhost", "127.0.0.1", "office.saltmarsh.example"})
    void aNeighbourTakesNoHostThatIsNotItsOwn(String host) throws Exception {
        Wire.Answer refused = operator.post(
                "/issuers/gullwing/routes",
                "{\"path\":\"%s/mine\",\"open\":true,\"fixed_response\":{\"body\":\"mine\"}}".formatted(host));
        assertThat(refused.status()).as(refused.body()).isEqualTo(422);
        assertThat(refused.json().path("faults").get(0).path("pointer").asString())
                .isEqualTo("/path");
    }

    @Test
    void aNeighbourClaimsNoDomainOfAnother() throws Exception {
        for (String domain : List.of("saltmarsh.example", "tides.saltmarsh.example", "example")) {
            assertThat(operator.send("PATCH", "/issuers/gullwing", "*", "{\"domains\":[\"%s\"]}".formatted(domain))
                            .status())
                    .as(domain)
                    .isEqualTo(409);
        }
    }

    @Test
    void besideASignInPagesOfOtherRoutesAreSandboxed() throws Exception {
        // The demo signs browsers in at /office/**, at the host that all issuers share.
        route(
                "gullwing",
                "\"path\":\"/gulls-page\","
                        + "\"open\":true,\"fixed_response\":{\"content_type\":\"text/html\",\"body\":\"<script>fetch"
                        + "('/offic"
                        + "e/berths')</script>\"}");
        assertThat(Wire.get(demo.gateway() + "/gulls-page").header("Content-Security-Policy"))
                .isEqualTo("sandbox");
        assertThat(Wire.get(demo.gateway() + "/borders/page").header("Content-Security-Policy"))
                .as("an upstream's as well")
                .isEqualTo("sandbox");
        assertThat(Wire.send(
                                "GET",
                                demo.gateway() + "/office/berths",
                                Map.of("Accept", "text/html", "Sec-Fetch-Mode", "navigate"),
                                null)
                        .header("Content-Security-Policy"))
                .as("not where people sign in")
                .isEmpty();
        route(
                "harbour",
                "\"path\":\"/harbours-page\",\"open\":true,"
                        + "\"fixed_response\":{\"content_type\":\"text/html\",\"body\":\"here\"},"
                        + "\"transform\":{\"set_on_response\":{\"Content-Security-Policy\":\"default-src 'self'\"}}");
        assertThat(Wire.get(demo.gateway() + "/harbours-page")
                        .response()
                        .headers()
                        .allValues("Content-Security-Policy"))
                .as("said on purpose")
                .containsExactly("default-src 'self'");
        String refusal =
                "\"transform\":{\"refusals\":{\"any\":{\"content_type\":\"text/html\",\"body\":\"<script>x</script"
                        + ">\"}}}";
        route(
                "gullwing",
                "\"path\":\"/gulls-refusal\",\"api\":\"%s\",\"scopes\":[\"%s\"],%s"
                        .formatted(castApi(), Cast.SCOPE, refusal));
        assertThat(Wire.get(demo.gateway() + "/gulls-refusal").header("Content-Security-Policy"))
                .as("words of a refusal may be a page")
                .isEqualTo("sandbox");
    }

    private static String castApi() throws Exception {
        Cast.of(demo);
        return Cast.API;
    }

    @Test
    void oneIssuerAloneSignsPeopleInAtTheSharedHost() throws Exception {
        String api = castApi();
        operator.post(
                "/issuers/gullwing/clients",
                ("{\"name\":\"gulls-desk\",\"kind\":\"web\",\"redirect_uris\":[\"http://localhost:%d/_admit/signed-i"
                                + "n\"]}")
                        .formatted(demo.gatewayPort));
        String route = "{\"path\":\"%s\",\"methods\":[\"GET\"],\"api\":\"" + api + "\",\"scopes\":[\"" + Cast.SCOPE
                + "\"],\"who\":{\"sign_in\":\"gulls-desk\"}}";
        Wire.Answer refused = operator.post("/issuers/gullwing/routes", route.formatted("/gulls-office/**"));
        assertThat(refused.status()).as(refused.body()).isEqualTo(409);
        Wire.Answer named =
                operator.post("/issuers/gullwing/routes", route.formatted("office.gullwing.example/gulls-office/**"));
        assertThat(named.status()).as(named.body()).isEqualTo(201);
    }

    // Headers.

    @ParameterizedTest(name = "{0}")
    @CsvSource(textBlock = """
            X_Tenant,          theirs
            X.Tenant,          theirs
            x-tenant,          theirs
            X_Forwarded_For,   10.9.8.7
            X_Forwarded_Host,  evil.example
            X_Real_IP,         10.9.8.7
            X_Debug,           theirs
            X_New,             theirs
            Admit_Caller,      theirs
            Admit.Caller,      theirs
            Proxy_Authorization, theirs
            X-HTTP-Method-Override, theirs
            X_HTTP_Method_Override, theirs
            X-Method-Override, theirs
            X-Original-URL,    /theirs
            X-Rewrite-URL,     /theirs
            X-Forwarded-User,  theirs
            Remote-User,       theirs
            REMOTE_USER,       theirs
            True-Client-IP,    10.9.8.7
            X-Client-IP,       10.9.8.7
            Proxy,             http://theirs""")
    void noSpellingOfAHeaderOfOursComesThrough(String name, String value) throws Exception {
        String seen = Wire.raw(
                demo.gatewayPort,
                ("GET /borders/x HTTP/1.1\r\nHost: localhost\r\n%s: %s\r\nX-Own: kept\r\nX_Own: "
                                + "kept-too\r\nConnection: close\r\n\r\n")
                        .formatted(name, value));
        assertThat(seen)
                .startsWith("HTTP/1.1 200")
                .contains("X-tenant=[ours]", "kept", "kept-too")
                .doesNotContain(value);
    }

    @Test
    void whatIsRenamedComesUnderItsNewNameAlone() throws Exception {
        String seen = Wire.send("GET", demo.gateway() + "/borders/x", Map.of("X-Old", "moved", "X-New", "forged"), null)
                .body();
        assertThat(seen).contains("X-new=[moved]").doesNotContain("forged").doesNotContain("X-old");
    }

    // Forms.

    private static Wire.Answer post(Visitor.Seen page, String... headers) throws Exception {
        Map<String, String> all = new HashMap<>(Map.of(
                "Content-Type",
                "application/x-www-form-urlencoded",
                "Cookie",
                String.join(
                        "; ",
                        page.by().cookies.entrySet().stream()
                                .map(it -> it.getKey() + "=" + it.getValue())
                                .toList())));
        for (int i = 0; i < headers.length; i += 2) all.put(headers[i], headers[i + 1]);
        return Wire.send(
                "POST",
                demo.server() + "/harbour/sign-in",
                all,
                "form=" + page.hidden("form").getFirst() + "&flow="
                        + Wire.encoded(page.hidden("flow").stream().findFirst().orElse(""))
                        + "&email=nobody%40saltmarsh.example&password=wrong");
    }

    @ParameterizedTest(name = "{0}: {1}, {2}")
    @CsvSource(nullValues = "none", textBlock = """
            Origin,         null,                    403
            Origin,         http://evil.example,     403
            Sec-Fetch-Site, cross-site,              403
            Sec-Fetch-Site, same-site,               403
            Sec-Fetch-Site, same-origin,             200""")
    void aFormIsTakenFromOurOwnPagesAlone(String header, String value, int status) throws Exception {
        Wire.Answer answer = post(new Visitor(demo).get("/harbour/sign-in"), header, value);
        assertThat(answer.status() == 403).as(answer.body()).isEqualTo(status == 403);
    }

    @Test
    void theTokenOfAFormFitsNoOtherSignInAndNoOtherBrowser() throws Exception {
        Visitor visitor = new Visitor(demo);
        Visitor.Seen one = visitor.get(Visitor.asking(demo, "berth-desk", Visitor.Pkce.make(), "openid"));
        Visitor.Seen other = visitor.get("/harbour/sign-in");
        assertThat(one.hidden("form")).as("of two sign-ins in one browser").isNotEqualTo(other.hidden("form"));
        String mixed = "form=" + other.hidden("form").getFirst() + "&flow="
                + Wire.encoded(one.hidden("flow").getFirst()) + "&email=x%40y.example&password=x";
        assertThat(visitor.post("/harbour/sign-in", mixed).status()).isEqualTo(403);
        String elsewhere = "form=" + other.hidden("form").getFirst() + "&email=x%40y.example&password=x";
        assertThat(new Visitor(demo)
                        .get("/harbour/sign-in")
                        .by()
                        .post("/harbour/sign-in", elsewhere)
                        .status())
                .isEqualTo(403);
    }

    @Test
    void aCookieThatNobodyGaveIsNotTaken() throws Exception {
        Visitor visitor = new Visitor(demo);
        visitor.cookies.put("admit-harbour", "a".repeat(43));
        Visitor.Seen page = visitor.get("/harbour/sign-in");
        assertThat(page.header("Set-Cookie"))
                .as("another is given")
                .contains("admit-harbour=")
                .contains("HttpOnly");
        Visitor given = new Visitor(demo);
        given.get("/harbour/sign-in");
        String cookie = given.cookies.get("admit-harbour");
        char last = cookie.charAt(cookie.length() - 1);
        visitor.cookies.put("admit-harbour", cookie.substring(0, cookie.length() - 1) + (last == 'A' ? 'B' : 'A'));
        assertThat(visitor.get("/harbour/sign-in").header("Set-Cookie"))
                .as("nor one that was changed")
                .contains("admit-harbour=");
    }

    @Test
    void ofTwoCookiesWithOneNameNeitherIsTaken() throws Exception {
        Visitor tobias = new Visitor(demo);
        Visitor.signIn(tobias.get("/harbour/sign-in"), demo, "tobias");
        String his = tobias.cookies.get("admit-harbour");
        Visitor attacker = new Visitor(demo);
        attacker.get("/harbour/sign-in");
        String both = "admit-harbour=" + attacker.cookies.get("admit-harbour") + "; admit-harbour=" + his;
        assertThat(Wire.send("GET", demo.server() + "/harbour/profile", Map.of("Cookie", "admit-harbour=" + his), null)
                        .status())
                .isEqualTo(200);
        assertThat(Wire.send("GET", demo.server() + "/harbour/profile", Map.of("Cookie", both), null)
                        .body())
                .doesNotContain("Tobias");
    }
}
