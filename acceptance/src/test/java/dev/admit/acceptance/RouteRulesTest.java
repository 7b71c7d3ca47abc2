package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.sun.net.httpserver.HttpServer;
import java.net.InetSocketAddress;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.parallel.ResourceLock;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.JsonNode;

/**
 * What a route asks of a token beside its scopes, what it does to a request, and how much passes: through real sockets,
 * with decision and fix.
 */
@ResourceLock(Running.DEMO)
class RouteRulesTest {
    private static Running demo;
    private static Operator operator;
    private static final Map<String, String> TOKENS = new HashMap<>();
    private static int routes;

    @BeforeAll
    static void start() throws Exception {
        demo = Running.demo();
        operator = Operator.of(demo);
        assertThat(operator.harbour("POST", "/apis", "{\"name\":\"locks\",\"upstream\":\"%s\"}".formatted(upstream()))
                        .status())
                .isEqualTo(201);
        operator.harbour(
                "PATCH", "/apis/locks/minting", "{\"claims\":[{\"name\":\"roles\",\"expression\":\"person.roles\"}]}");
        operator.harbour(
                "POST",
                "/apis/locks/scopes",
                "{\"name\":\"locks.work\","
                        + "\"effect\":\"reads\",\"reach\":\"everyone\",\"for\":\"both\",\"approver\":\"person\"}");
        TOKENS.put("client", token(operator.approvedClient("lock-keeper", "locks.work")));
        TOKENS.put("other client", token(operator.approvedClient("lock-watcher", "locks.work")));
        operator.harbour(
                "POST",
                "/clients",
                "{\"name\":\"lock-tablet\","
                        + "\"kind\":\"native\",\"redirect_uris\":[\"http://127.0.0.1/back\"],\"scopes\":[\"locks.wor"
                        + "k\"]}");
        TOKENS.put("tobias", person("tobias", ""));
        TOKENS.put("isolde", person("isolde", ""));
        TOKENS.put("ama, two factors", person("ama", "urn:admit:acr:2"));
    }

    private static HttpServer backend;

    /** A backend that answers with the headers it got. */
    private static String upstream() throws Exception {
        backend = HttpServer.create(new InetSocketAddress("127.0.0.1", 0), 0);
        backend.createContext("/", exchange -> {
            try (exchange) {
                exchange.getRequestBody().readAllBytes();
                String wait = exchange.getRequestHeaders().getFirst("X-Wait");
                if (wait != null) pause(Long.parseLong(wait));
                Map<String, String> got = new HashMap<>();
                exchange.getRequestHeaders().forEach((name, values) -> got.put(name, String.join(", ", values)));
                byte[] body = Running.JSON.writeValueAsBytes(got);
                exchange.sendResponseHeaders(200, body.length);
                exchange.getResponseBody().write(body);
            }
        });
        backend.setExecutor(Executors.newVirtualThreadPerTaskExecutor());
        backend.start();
        return "http://127.0.0.1:" + backend.getAddress().getPort();
    }

    private static void pause(long millis) {
        try {
            Thread.sleep(millis);
        } catch (InterruptedException ended) {
            Thread.currentThread().interrupt();
        }
    }

    @AfterAll
    static void stop() {
        backend.stop(0);
    }

    private static String token(JsonNode client) throws Exception {
        Wire.Answer answer = Wire.form(
                demo.ready().path("issuers").path("harbour").asString() + "/token",
                Wire.basic(client),
                "grant_type=client_credentials&scope=locks.work");
        assertThat(answer.status()).as(answer.body()).isEqualTo(200);
        return answer.json().path("access_token").asString();
    }

    private static String person(String name, String acr) throws Exception {
        Visitor.Pkce pkce = Visitor.Pkce.make();
        String client = operator.harbour("GET", "/clients/lock-tablet", null)
                .json()
                .path("client_id")
                .asString();
        String ask = "/harbour/authorize?response_type=code&client_id=" + client + "&redirect_uri="
                + Wire.encoded("http://127.0.0.1:9/back") + "&scope=locks.work&state=s&code_challenge="
                + pkce.challenge() + "&code_challenge_method=S256" + (acr.isEmpty() ? "" : "&acr_values=" + acr);
        Visitor.Seen page = Visitor.signIn(new Visitor(demo).get(ask), demo, name);
        if (page.text().contains("Second factor"))
            page = page.send(
                    "/harbour/second-factor",
                    "code",
                    TimeCodes.now(Visitor.person(demo, name).path("totp_seed").asString()));
        Visitor.Seen back = Visitor.approve(page);
        Wire.Answer answer = Wire.form(
                demo.ready().path("issuers").path("harbour").asString() + "/token",
                null,
                "grant_type=authorization_code&client_id=" + client + "&redirect_uri="
                        + Wire.encoded("http://127.0.0.1:9/back") + "&code=" + back.parameter("code")
                        + "&code_verifier=" + pkce.verifier());
        assertThat(answer.status()).as(answer.body()).isEqualTo(200);
        return answer.json().path("access_token").asString();
    }

    /** @return the path of a new route with these members more, which answers with what the backend got */
    private static String route(String more) throws Exception {
        String path = "/locks-" + ++routes;
        Wire.Answer made = operator.harbour(
                "POST",
                "/routes",
                ("{\"path\":\"%s/{lock}\","
                                + "\"api\":\"locks\",\"scopes\":[\"locks.work\"],\"transform\":{\"path\":\"/received\""
                                + "}%s}")
                        .formatted(path, more.isEmpty() ? "" : "," + more));
        assertThat(made.status()).as(made.body()).isEqualTo(201);
        return path;
    }

    private static Wire.Answer call(String who, String path) throws Exception {
        return Wire.call("GET", demo.gateway() + path, TOKENS.get(who));
    }

    @ParameterizedTest(name = "{0}: {1} is refused for {2}, {3} passes")
    @CsvSource(delimiter = '|', quoteCharacter = '`', textBlock = """
            "who":{"for":"people"}                              | client           | person-wanted            | \
            tobias
            "who":{"for":"clients"}                             | tobias           | client-wanted            | \
            client
            "who":{"clients":["lock-keeper"]}                      | other client     | client-not-named         | \
            client
            "who":{"roles":["pilot"]}                              | isolde           | role-missing             | \
            tobias
            "who":{"roles":["pilot","customs-officer"]}            | isolde           | role-missing             | \
            ama, two factors
            "who":{"roles":["pilot"]}                              | client           | role-missing             | \
            tobias
            "who":{"acr":"urn:admit:acr:2"}                   | tobias           | sign-in-not-strong-enough | \
            ama, two factors
            "who":{"max_age":"1h"}                        | client           | sign-in-too-old          | \
            tobias
            "who":{"condition":"path.lock == 'sea' && method == 'GET'"} | -                | condition-not-met        \
            | \
            client
            "who":{"condition":"claims.roles.exists(r, r == 'pilot')"}  | isolde           | condition-not-met        \
            | \
            tobias
            "who":{"condition":"claims.nothing == 'x'"}                 | client           | condition-not-met        \
            | -
            "who":{"condition":"now > 0 && !('authorization' in headers)"} | -             | -                        \
            | \
            client""")
    void eachRuleRefusesForItsOwnReasonAndItsFixPasses(String more, String refused, String reason, String passes)
            throws Exception {
        String path = route(more);
        if (!reason.equals("-")) {
            Wire.Answer no =
                    call(refused.equals("-") ? "client" : refused, path + (refused.equals("-") ? "/river" : "/sea"));
            assertThat(no.json().path("reason").asString()).as(no.body()).isEqualTo(reason);
            assertThat(no.status()).isEqualTo(reason.startsWith("sign-in") ? 401 : 403);
            JsonNode decision = operator.decision(no);
            assertThat(decision.path("reason").asString()).isEqualTo(reason);
            assertThat(decision.path("fix").path("sentence").asString()).isNotEmpty();
            if (reason.equals("condition-not-met")) {
                assertThat(no.body())
                        .as("how a condition reads is not told")
                        .doesNotContain("claims.")
                        .doesNotContain("path.lock");
                assertThat(decision.path("done").toString()).contains("the condition ");
            }
            assertThat(no.header("WWW-Authenticate"))
                    .contains(
                            reason.startsWith("sign-in")
                                    ? "error=\"insufficient_user_authentication\""
                                    : "error=\"insufficient_scope\"");
        }
        if (!passes.equals("-"))
            assertThat(call(passes, path + "/sea").status()).isEqualTo(200);
    }

    @Test
    void aWeakOrOldSignInIsToldWhatToAskFor() throws Exception {
        String path = route("\"who\":{\"acr\":\"urn:admit:acr:2\",\"max_age\":\"10m\"}");
        Wire.Answer no = call("tobias", path + "/sea");
        assertThat(no.header("WWW-Authenticate"))
                .contains("acr_values=\"urn:admit:acr:2\"")
                .contains("max_age=600");
    }

    @Test
    void theBackendGetsWhatTheRouteSaysAndNeverWhatTheCallerPutInItsPlace() throws Exception {
        Wire.Answer made = operator.harbour("POST", "/routes", """
                {"path":"/shaped/{lock}/**","api":"locks","scopes":["locks.work"],"transform":{"path":"/received",\
                "set_on_request":{"X-Lock":"{{path.lock}} by {{claims.client_id}}","X-Fixed":"yes"},
                 "renamed_on_request":{"X-Old":"X-New"},"removed_on_request":["X-Secret"],\
                "set_on_response":{"X-Looked":"{{decision}}","Content-Language":"en"},\
                "removed_on_response":["Via"]}}""");
        assertThat(made.status()).as(made.body()).isEqualTo(201);
        Wire.Answer answer = Wire.send(
                "GET",
                demo.gateway() + "/shaped/sea/deep/er",
                Map.of(
                        "Authorization",
                        "Bearer " + TOKENS.get("client"),
                        "X-Lock",
                        "forged",
                        "X-Old",
                        "kept",
                        "X-New",
                        "forged",
                        "X-Secret",
                        "s3cret",
                        "Admit-Person",
                        "forged"),
                null);
        assertThat(answer.status()).as(answer.body()).isEqualTo(200);
        assertThat(answer.body().toLowerCase(java.util.Locale.ROOT))
                .contains("sea by cl_")
                .contains("\"x-fixed\"")
                .contains("kept")
                .doesNotContain("forged")
                .doesNotContain("s3cret")
                .doesNotContain("\"x-old\"");
        assertThat(answer.header("X-Looked")).startsWith("dec_");
        assertThat(answer.header("Content-Language")).isEqualTo("en");
        assertThat(answer.header("Via")).isEmpty();
        assertThat(operator.decision(answer).path("done").toString()).contains("the path became /received");
    }

    @Test
    void aFixedResponseIsFilledInAndStaysJson() throws Exception {
        operator.harbour("POST", "/routes", """
                {"path":"/fill/{lock}","api":"locks","scopes":["locks.work"],"fixed_response":{"status":200,\
                "content_type":"application/json","body":"{\\"lock\\":\\"{{path.lock}}\\",\
                \\"who\\":\\"{{claims.sub}}\\",\\"route\\":\\"{{route}}\\"}"}}""");
        Wire.Answer answer = call("client", "/fill/a%22b");
        assertThat(answer.json().path("lock").asString()).isEqualTo("a\"b");
        assertThat(answer.json().path("who").asString()).startsWith("cl_");
    }

    @Test
    void aRateIsCountedForEachClientAndSaysHowLongToWait() throws Exception {
        String path = route("\"limits\":{\"rates\":[\"3 per 1h by client\"]}");
        for (int left = 2; left >= 0; left--)
            assertThat(call("client", path + "/sea").header("RateLimit")).startsWith("\"client\";r=" + left + ";t=");
        Wire.Answer no = call("client", path + "/sea");
        assertThat(no.status()).isEqualTo(429);
        assertThat(no.json().path("reason").asString()).isEqualTo("rate-exceeded");
        assertThat(Integer.parseInt(no.header("Retry-After"))).isBetween(1100, 1200);
        assertThat(no.header("RateLimit-Policy")).isEqualTo("\"client\";q=3;w=3600");
        assertThat(operator.decision(no).path("reason").asString()).isEqualTo("rate-exceeded");
        assertThat(call("other client", path + "/sea").status())
                .as("another client has room of its own")
                .isEqualTo(200);
    }

    @Test
    void thirtyTwoCallersAtOnceGetWhatIsThereAndNoMore() throws Exception {
        String path = route("\"limits\":{\"rates\":[\"20 per 1h by route\"]}");
        Callable<Integer> caller = () -> {
            int passed = 0;
            for (int i = 0; i < 3; i++) if (call("client", path + "/sea").status() == 200) passed++;
            return passed;
        };
        int passed = 0;
        try (var threads = Executors.newFixedThreadPool(32)) {
            for (Future<Integer> one : threads.invokeAll(java.util.Collections.nCopies(32, caller)))
                passed += one.get();
        }
        assertThat(passed).isEqualTo(20);
    }

    private static Wire.Answer waiting(String path, int millis) throws Exception {
        return Wire.send(
                "GET",
                demo.gateway() + path + "/sea",
                Map.of("Authorization", "Bearer " + TOKENS.get("client"), "X-Wait", String.valueOf(millis)),
                null);
    }

    @Test
    void noMoreThanSoManyAreUnderWayAndEachThatEndsMakesRoom() throws Exception {
        String path = route("\"limits\":{\"concurrent\":1}");
        try (var threads = Executors.newVirtualThreadPerTaskExecutor()) {
            Future<Wire.Answer> first = threads.submit(() -> waiting(path, 3000));
            pause(1000);
            Wire.Answer second = waiting(path, 0);
            assertThat(second.status()).isEqualTo(429);
            assertThat(second.json().path("reason").asString()).isEqualTo("too-many-concurrent");
            assertThat(second.header("Retry-After")).isEqualTo("1");
            assertThat(operator.decision(second).path("reason").asString()).isEqualTo("too-many-concurrent");
            assertThat(first.get().status()).isEqualTo(200);
        }
        // The one who has the end of an answer may come again a moment before its place is counted as free.
        for (int i = 0; i < 3; i++) {
            pause(100);
            assertThat(waiting(path, 0).status()).isEqualTo(200);
        }
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {"`\"idle\":\"1s\"`", "`\"total\":\"1s\"`"})
    void anExchangeThatTakesTooLongEndsWith504(String limit) throws Exception {
        String path = "/slow-" + ++routes;
        operator.harbour(
                "POST",
                "/routes",
                "{\"path\":\"%s/{lock}\",\"api\":\"locks\",\"scopes\":[\"locks.work\"],\"timeouts\":{%s}}"
                        .formatted(path, limit));
        assertThat(waiting(path, 0).status()).isEqualTo(200);
        assertThat(waiting(path, 4000).status()).isEqualTo(504);
    }

    @Test
    void aBodyThatIsTooLargeForTheRouteIsRefusedAnnouncedOrNot() throws Exception {
        String path = route("\"limits\":{\"body\":10}");
        Map<String, String> headers =
                Map.of("Authorization", "Bearer " + TOKENS.get("client"), "Content-Type", "text/plain");
        assertThat(Wire.send("POST", demo.gateway() + path + "/sea", headers, "0123456789ab")
                        .status())
                .isEqualTo(413);
        assertThat(Wire.send("POST", demo.gateway() + path + "/sea", headers, "01234")
                        .status())
                .isNotEqualTo(413);
    }

    /** A text that cannot be read must not be saved: what is compiled for the gateway is compiled whole. */
    @Test
    void aFixedResponseThatIsNoTemplateIsRefusedAndTheGatewayGoesOn() throws Exception {
        for (String body : List.of("{{#open}}", "{{> x}}", "{{=<% %>=}}")) {
            Wire.Answer answer = operator.harbour(
                    "POST",
                    "/routes",
                    "{\"path\":\"/broken\",\"open\":true,\"fixed_response\":{\"body\":\"%s\"}}".formatted(body));
            assertThat(answer.status()).as(body).isEqualTo(422);
            assertThat(answer.body()).contains("/fixed_response/body");
        }
        operator.harbour(
                "POST",
                "/routes",
                "{\"path\":\"/nested\",\"open\":true,\"fixed_response\":{\"content_type\":\"application/json\",\"bod"
                        + "y\":\""
                        + "{\\\"a\\\":{\\\"b\\\":{}}}\"}}");
        assertThat(Wire.get(demo.gateway() + "/nested").body()).isEqualTo("{\"a\":{\"b\":{}}}");
    }

    @ParameterizedTest(name = "{0}: {1}")
    @CsvSource(delimiter = '|', quoteCharacter = '`', textBlock = """
            "who":{"for":"everyone"}                    | /who/for
            "who":{"clients":["nobody-such"]}              | /who/clients/0
            "who":{"condition":"claims.sub =="}                 | /who/condition
            "who":{"condition":"'a' + 'b'"}                     | /who/condition
            "who":{"acr":"two words"}                 | /who/acr
            "who":{"for":"clients","acr":"x"}      | /who/for
            "who":{"max_age":"soon"}              | /who/max_age
            "who":{"unknown":1}                            | unknown
            "transform":{"path":"/x/{other}"}                | /transform/path
            "transform":{"set_on_request":{"Admit-Person":"x"}} | /transform/set_on_request
            "transform":{"set_on_request":{"Host":"x"}}      | /transform/set_on_request
            "transform":{"set_on_request":{"a b":"x"}}       | /transform/set_on_request
            "transform":{"set_on_request":{"Authorization":"Basic c2VjcmV0"}} | /transform/set_on_request
            "transform":{"renamed_on_request":{"Authorization":"X-Token"}} | /transform/renamed_on_request
            "transform":{"proof":"sometimes"}              | /transform/proof
            "transform":{"set_on_request":{"X-A":"{{#open}}"}} | /transform/set_on_request/X-A
            "transform":{"set_on_response":{"X-A":"a\\u000d\\u000ab"}} | /transform/set_on_response/X-A
            "transform":{"removed_on_response":["Admit-Decision"]} | /transform/removed_on_response
            "timeouts":{"total":"2d"}                       | /timeouts/total
            "limits":{"rates":["many per day"]}            | /limits/rates/0
            "limits":{"rates":["0 per 1m by client"]}      | /limits/rates/0
            "limits":{"rates":["5 per 1m by moon"]}        | /limits/rates/0
            "limits":{"concurrent":0}                         | /limits/concurrent
            "limits":{"body":-1}                           | /limits/body""")
    void whatMakesNoSenseIsToldAtItsPlace(String more, String pointer) throws Exception {
        Wire.Answer answer = operator.harbour(
                "POST",
                "/routes",
                "{\"path\":\"/senseless\",\"api\":\"locks\",\"scopes\":[\"locks.work\"],%s}".formatted(more));
        assertThat(answer.status()).as(answer.body()).isIn(400, 422);
        assertThat(answer.body()).contains(pointer);
    }

    @Test
    void theCommandLineSaysAllOfItAndTheSetupFileCarriesIt() throws Exception {
        Running.Said made = demo.admit(
                "route",
                "add",
                "GET",
                "/by-line/{lock}/**",
                "--api",
                "locks",
                "--scope",
                "locks.work",
                "--for",
                "people",
                "--role",
                "pilot",
                "--condition",
                "path.lock != 'shut'",
                "--max-age",
                "30m",
                "--upstream-path",
                "/received",
                "--request-header",
                "X-Lock={{path.lock}}",
                "--drop-response-header",
                "Via",
                "--rate",
                "60 per 1m by person",
                "--concurrent",
                "5",
                "--idle-timeout",
                "10s");
        assertThat(made.exitCode()).as(made.err()).isZero();
        String shown = demo.admit("route", "show", "GET", "/by-line/{lock}/**").out();
        for (String line : List.of(
                "Only on a person's behalf.",
                "Only people with the role pilot.",
                "Only when",
                "Only after a sign-in within the last 30m.",
                ", as /received.",
                "The request gets X-Lock: {{path.lock}}",
                "At most 60 per 1m by person.",
                "At most 5 concurrent requests.",
                "The response loses Via.",
                "send nothing for 10s")) assertThat(shown).contains(line);
        assertThat(call("tobias", "/by-line/sea/x").status()).isEqualTo(200);
        assertThat(call("isolde", "/by-line/sea/x").json().path("reason").asString())
                .isEqualTo("role-missing");
        assertThat(call("tobias", "/by-line/shut/x").json().path("reason").asString())
                .isEqualTo("condition-not-met");
        String file = demo.admit("setup", "export").out();
        assertThat(file).contains("60 per 1m by person").contains("path.lock != 'shut'");
        JsonNode again = operator.post("/setup/compare", Running.JSON.writeValueAsString(Map.of("file", file)))
                .json();
        assertThat(again.path("steps").toString())
                .as("what was exported changes nothing")
                .doesNotContain("route");
    }

    @Test
    void aQuotaSaysWhenItBeginsAnew() throws Exception {
        String path = route("\"limits\":{\"quotas\":[\"2 per day by client\",\"1000 per month by route\"]}");
        Wire.Answer first = call("client", path + "/sea");
        assertThat(first.header("RateLimit-Policy")).isEqualTo("\"client-day\";q=2;w=86400");
        assertThat(first.header("RateLimit")).startsWith("\"client-day\";r=1;t=");
        assertThat(call("client", path + "/sea").status()).isEqualTo(200);
        Wire.Answer over = call("client", path + "/sea");
        assertThat(over.status()).isEqualTo(429);
        assertThat(over.json().path("reason").asString()).isEqualTo("quota-exceeded");
        assertThat(Long.parseLong(over.header("Retry-After"))).isBetween(1L, 86_400L);
        assertThat(operator.decision(over).path("reason").asString()).isEqualTo("quota-exceeded");
        assertThat(call("other client", path + "/sea").status())
                .as("another client has its own")
                .isEqualTo(200);
    }

    @Test
    void headersOfMoreThanTheRouteTakesAreRefused() throws Exception {
        String path = route("\"limits\":{\"headers\":3000}");
        assertThat(call("client", path + "/sea").status()).isEqualTo(200);
        Wire.Answer no = Wire.send(
                "GET",
                demo.gateway() + path + "/sea",
                Map.of("Authorization", "Bearer " + TOKENS.get("client"), "X-Long", "x".repeat(3000)),
                null);
        assertThat(no.status()).isEqualTo(431);
        assertThat(no.json().path("reason").asString()).isEqualTo("headers-too-large");
    }

    /** What a route means is said in the same words before and after it is saved, and saying so saves nothing. */
    @Test
    void aRouteIsToldInSentencesBeforeItIsThere() throws Exception {
        String draft = """
                {"path":"/told/{lock}","methods":["GET"],"api":"locks","scopes":["locks.work"],\
                "who":{"for":"people","max_age":"10m"},"limits":{"rates":["60 per 1m by client"]}}""";
        Wire.Answer told = operator.harbour("POST", "/routes/preview", draft);
        assertThat(told.status()).as(told.body()).isEqualTo(200);
        assertThat(told.json().path("sentences").toString())
                .contains("A token for locks with locks.work may call GET /told/{lock}.")
                .contains("Only on a person's behalf.")
                .contains("At most 60 per 1m by client.");
        assertThat(demo.admit(
                                "route",
                                "add",
                                "GET",
                                "/told/{lock}",
                                "--api",
                                "locks",
                                "--scope",
                                "locks.work",
                                "--preview")
                        .out())
                .contains("A token for locks with locks.work may call GET /told/{lock}.");
        assertThat(demo.admit("route", "list").out()).doesNotContain("/told/");
        Wire.Answer made = operator.harbour("POST", "/routes", draft);
        assertThat(made.json().path("now").path("sentences"))
                .isEqualTo(told.json().path("sentences"));
        assertThat(demo.admit("route", "show", "GET", "/told/{lock}").out())
                .contains("A token for locks with locks.work may call GET /told/{lock}.");
        Wire.Answer no = operator.harbour("POST", "/routes/preview", "{\"path\":\"told\",\"api\":\"nowhere\"}");
        assertThat(no.status()).isEqualTo(422);
        assertThat(no.json().path("faults").toString()).contains("/path").contains("/api");
    }

    /**
     * What a client and an API mean is told before they are there; nothing of it stays, no name, no secret, no audit.
     */
    @Test
    void aClientAndAnApiAreToldBeforeTheyAreThere() throws Exception {
        int audit = operator.harbour("GET", "/audit?limit=200", null)
                .json()
                .path("items")
                .size();
        Wire.Answer client = operator.harbour("POST", "/clients/preview", """
                {"name":"told-tug","scopes":["locks.work"],"secret_lifetime":"30d"}""");
        assertThat(client.status()).as(client.body()).isEqualTo(200);
        assertThat(client.json().path("sentences").toString())
                .contains("It is a program that acts for no person.")
                .contains("It proves itself with a secret.")
                .contains("The secret expires at ");
        assertThat(client.json().path("missing").toString())
                .contains("It requests locks.work: an administrator must approve");
        assertThat(client.body()).doesNotContain("secret\":");
        Wire.Answer api = operator.harbour("POST", "/apis/preview", """
                {"name":"told-api","audience":"https://told.saltmarsh.example","upstream":"http://127.0.0.1:9"}""");
        assertThat(api.status()).as(api.body()).isEqualTo(200);
        assertThat(api.json().path("sentences").toString())
                .contains("Tokens for it have the audience https://told.saltmarsh.example.")
                .contains("They live 15m and are JWTs.")
                .contains("Its routes go to http://127.0.0.1:9, where they name no other upstream.");
        assertThat(demo.admit("client", "add", "told-tug", "--kind", "web", "--preview")
                        .out())
                .contains("It is a web application with a server of its own.")
                .contains("It has no redirect URI.");
        assertThat(demo.admit("api", "add", "told-api", "--preview").out())
                .contains("Each of its routes names its own upstream.");

        assertThat(operator.harbour("GET", "/clients/told-tug", null).status()).isEqualTo(404);
        assertThat(operator.harbour("GET", "/apis/told-api", null).status()).isEqualTo(404);
        assertThat(operator.harbour("GET", "/audit?limit=200", null)
                        .json()
                        .path("items")
                        .toString())
                .doesNotContain("told-tug")
                .doesNotContain("told-api");
        assertThat(audit).isPositive();

        Wire.Answer taken = operator.harbour("POST", "/clients/preview", "{\"name\":\"tide-buoy-07\"}");
        assertThat(taken.status()).as(taken.body()).isEqualTo(409);
        Wire.Answer unknown =
                operator.harbour("POST", "/clients/preview", "{\"name\":\"told-tug\",\"scopes\":[\"no.such\"]}");
        assertThat(unknown.status()).isEqualTo(422);
        assertThat(unknown.json().path("faults").toString()).contains("/scopes/0");
    }

    @Test
    void aScopeIsToldAsItsReadersWillFindItBeforeItIsThere() throws Exception {
        Wire.Answer told = operator.harbour("POST", "/apis/locks/scopes/preview", """
                {"name":"locks.look","effect":"reads","reach":"own","for":"people",\
                "consequence":"Sees {whose} passages."}""");
        assertThat(told.status()).as(told.body()).isEqualTo(200);
        assertThat(told.json().path("consequence_reads").path("person").asString())
                .isEqualTo("Sees your passages.");
        assertThat(told.json().path("consequence_reads").path("administrator").asString())
                .isEqualTo("Sees the caller's own passages.");
        assertThat(demo.admit(
                                "scope",
                                "add",
                                "locks",
                                "locks.look",
                                "--effect",
                                "reads",
                                "--reach",
                                "own",
                                "--for",
                                "people",
                                "--preview")
                        .out())
                .contains("An administrator reads");
        assertThat(operator.harbour("GET", "/apis/locks/scopes/locks.look", null)
                        .status())
                .isEqualTo(404);
    }

    @Test
    void aRefusalSpeaksInTheRoutesOwnWordsAndKeepsItsStatusAndChallenge() throws Exception {
        String path = "/worded";
        Wire.Answer made = operator.harbour("POST", "/routes", """
                {"path":"/worded/{lock}","api":"locks","scopes":["locks.work"],"who":{"for":"people"},\
                "transform":{"path":"/received","refusals":{
                  "person-wanted":{"content_type":"text/html; charset=utf-8","body":"<p>{{sentence}} \
                <b>{{decision}}</b></p>"},"401":{"body":"Who are you? {{reason}}"},"any":{"body":"No."}}}}""");
        assertThat(made.status()).as(made.body()).isEqualTo(201);
        Wire.Answer none = Wire.send("GET", demo.gateway() + path + "/sea", Map.of(), null);
        assertThat(none.status()).isEqualTo(401);
        assertThat(none.header("WWW-Authenticate")).startsWith("Bearer realm=");
        assertThat(none.body()).isEqualTo("Who are you? no-token");
        Wire.Answer person = call("client", path + "/sea");
        assertThat(person.status()).isEqualTo(403);
        assertThat(person.header("Content-Type")).isEqualTo("text/html; charset=utf-8");
        assertThat(person.body()).startsWith("<p>").contains("<b>" + person.header("Admit-Decision") + "</b>");
        Wire.Answer twice = Wire.send("GET", demo.gateway() + path + "/sea?access_token=%3Cscript%3E", Map.of(), null);
        assertThat(twice.body()).isEqualTo("No.");
    }

    @Test
    void anUpstreamThatTakesNoConnectionIsGivenUpInTime() throws Exception {
        // A port that is bound and whose queue is full takes no connection and refuses none.
        try (java.net.ServerSocket full = new java.net.ServerSocket(0, 1, java.net.InetAddress.getLoopbackAddress())) {
            java.util.List<java.net.Socket> held = new java.util.ArrayList<>();
            for (int i = 0; i < 8; i++) {
                java.net.Socket one = new java.net.Socket();
                held.add(one);
                try {
                    one.connect(full.getLocalSocketAddress(), 200);
                } catch (java.io.IOException queueIsFull) {
                    break;
                }
            }
            String path = "/slow-to-connect-" + ++routes;
            Wire.Answer made = operator.harbour(
                    "POST",
                    "/routes",
                    ("{\"path\":\"%s\",\"api\":\"locks\",\"scopes\":[\"locks.work\"],"
                                    + "\"upstream\":\"http://127.0.0.1:%d\",\"timeouts\":{\"connect\":\"1s\"}}")
                            .formatted(path, full.getLocalPort()));
            assertThat(made.status()).as(made.body()).isEqualTo(201);
            long begin = System.nanoTime();
            Wire.Answer answer = call("client", path);
            assertThat(answer.status()).as(answer.body()).isEqualTo(504);
            assertThat(System.nanoTime() - begin)
                    .as("well before the gateway's own 5 s")
                    .isLessThan(4_500_000_000L);
            for (java.net.Socket one : held) one.close();
        }
    }

    @Test
    void aRouteForAHostAnswersThereAlone() throws Exception {
        Wire.Answer made = operator.harbour(
                "POST",
                "/routes",
                "{\"path\":\"locks.saltmarsh.example/by-host\",\"open\":true,\"fixed_response\":{\"body\":\"the "
                        + "locks\"}}");
        assertThat(made.status()).as(made.body()).isEqualTo(201);
        String there = Wire.raw(
                demo.gatewayPort,
                "GET /by-host HTTP/1.1\r\nHost: LOCKS.saltmarsh.example:9490\r\nConnection: close\r\n\r\n");
        assertThat(there).startsWith("HTTP/1.1 200").endsWith("the locks");
        assertThat(Wire.send("GET", demo.gateway() + "/by-host", Map.of(), null).status())
                .isEqualTo(404);
        assertThat(demo.admit("route", "try", "GET", "/by-host", "--host", "locks.saltmarsh.example")
                        .out())
                .contains("is answered by the route locks.saltmarsh.example/by-host");

        Wire.Answer taken = operator.send(
                "POST",
                "/issuers/gullwing/routes",
                null,
                "{\"path\":\"locks.saltmarsh.example/elsewhere\",\"open\":true,\"fixed_response\":{\"body\":\"gull"
                        + "s\"}}");
        assertThat(taken.status()).as("a domain of the harbour").isEqualTo(422);
        Wire.Answer path = operator.send(
                "POST",
                "/issuers/gullwing/routes",
                null,
                "{\"path\":\"/tides/{any}/gulls\",\"open\":true,\"fixed_response\":{\"body\":\"gulls\"}}");
        assertThat(path.status()).as("some of what GET /tides/** takes").isEqualTo(409);
        assertThat(path.body()).contains("what is another issuer's stays theirs");
    }
}
