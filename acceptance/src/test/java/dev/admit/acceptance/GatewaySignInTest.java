package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.sun.net.httpserver.HttpServer;
import java.net.InetSocketAddress;
import java.util.ArrayList;
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
import tools.jackson.databind.JsonNode;

/**
 * Browsers that the gateway signs in: to the issuer and back, a sealed session, renewed behind the scenes, and ended.
 */
@ResourceLock(Running.DEMO)
class GatewaySignInTest {
    private static final String HTML = "text/html,application/xhtml+xml";
    private static Running demo;
    private static Operator operator;
    private static HttpServer backend;

    @BeforeAll
    static void start() throws Exception {
        demo = Running.demo();
        operator = Operator.of(demo);
        backend = HttpServer.create(new InetSocketAddress("127.0.0.1", 0), 0);
        backend.setExecutor(Executors.newVirtualThreadPerTaskExecutor());
        backend.createContext("/", exchange -> {
            try (exchange) {
                exchange.getRequestBody().readAllBytes();
                Map<String, String> got = new HashMap<>();
                exchange.getRequestHeaders()
                        .forEach((name, values) ->
                                got.put(name.toLowerCase(java.util.Locale.ROOT), String.join(", ", values)));
                byte[] body = Running.JSON.writeValueAsBytes(got);
                exchange.getResponseHeaders().set("Cache-Control", "public, max-age=600");
                exchange.getResponseHeaders().set("Expires", "Thu, 01 Jan 2099 00:00:00 GMT");
                exchange.sendResponseHeaders(200, body.length);
                exchange.getResponseBody().write(body);
            }
        });
        backend.start();
        assertThat(operator.harbour(
                                "POST",
                                "/apis",
                                "{\"name\":\"lodge\",\"upstream\":\"http://127.0.0.1:%d\"}"
                                        .formatted(backend.getAddress().getPort()))
                        .status())
                .isEqualTo(201);
        operator.harbour("PATCH", "/apis/lodge/minting", "{\"lifetime\":\"32s\"}");
        operator.harbour(
                "POST",
                "/apis/lodge/scopes",
                "{\"name\":\"lodge.enter\","
                        + "\"effect\":\"reads\",\"reach\":\"own\",\"for\":\"people\",\"approver\":\"person\"}");
        Wire.Answer client = operator.harbour(
                "POST",
                "/clients",
                ("{\"name\":\"lodge-desk\","
                                + "\"kind\":\"web\",\"redirect_uris\":[\"%s/_admit/signed-in\"],\"openid_scopes\":"
                                + "[\"openid\",\"offline_access\"],\"scopes\":[\"lodge.enter\"]}")
                        .formatted(demo.gateway()));
        assertThat(client.status()).as(client.body()).isEqualTo(201);
        Wire.Answer route = operator.harbour(
                "POST",
                "/routes",
                "{\"path\":\"/lodge/**\","
                        + "\"api\":\"lodge\",\"scopes\":[\"lodge.enter\"],\"who\":{\"sign_in\":\"lodge-desk\"}}");
        assertThat(route.status()).as(route.body()).isEqualTo(201);
    }

    @AfterAll
    static void stop() {
        backend.stop(0);
    }

    /** A browser at the gateway. */
    private static final class Browser {
        final Map<String, String> cookies = new HashMap<>();

        Wire.Answer open(String url, String... headers) throws Exception {
            return send("GET", url, join(headers, "Accept", HTML));
        }

        Wire.Answer send(String method, String url, String... headers) throws Exception {
            Map<String, String> all = new HashMap<>();
            for (int i = 0; i < headers.length; i += 2) all.put(headers[i], headers[i + 1]);
            if (!cookies.isEmpty())
                all.put(
                        "Cookie",
                        String.join(
                                "; ",
                                cookies.entrySet().stream()
                                        .map(it -> it.getKey() + "=" + it.getValue())
                                        .toList()));
            Wire.Answer answer = Wire.send(
                    method,
                    url.startsWith("http") ? url : demo.gateway() + url,
                    all,
                    method.equals("POST") ? "x" : null);
            for (String set : answer.response().headers().allValues("Set-Cookie")) {
                String[] pair = set.substring(0, set.indexOf(';')).split("=", 2);
                if (pair[1].isEmpty()) cookies.remove(pair[0]);
                else cookies.put(pair[0], pair[1]);
            }
            return answer;
        }

        String session() {
            return cookies.keySet().stream()
                    .filter(it -> it.startsWith("admit_session_"))
                    .findFirst()
                    .orElseThrow();
        }

        private static String[] join(String[] some, String... more) {
            List<String> all = new ArrayList<>(List.of(some));
            all.addAll(List.of(more));
            return all.toArray(String[]::new);
        }
    }

    /** Goes all the way to where the issuer sends the browser back. */
    private static String backFromIssuer(Wire.Answer sent, String person) throws Exception {
        assertThat(sent.status()).as(sent.body()).isEqualTo(303);
        Visitor.Seen page = Visitor.signIn(
                new Visitor(demo)
                        .get(sent.header("Location").substring(demo.server().length())),
                demo,
                person);
        return (page.location().isEmpty() ? Visitor.approve(page) : page).location();
    }

    private static Browser signedIn(String person) throws Exception {
        Browser browser = new Browser();
        Wire.Answer back = browser.open(backFromIssuer(browser.open("/lodge/desk?page=2"), person));
        assertThat(back.status()).as(back.body()).isEqualTo(303);
        assertThat(back.header("Location")).isEqualTo("/lodge/desk?page=2");
        return browser;
    }

    @Test
    void aBrowserSignsInAndComesBackToWhereItWasGoing() throws Exception {
        Browser browser = new Browser();
        Wire.Answer sent = browser.open("/lodge/desk?page=2");
        assertThat(sent.header("Location"))
                .startsWith(demo.server() + "/harbour/authorize?response_type=code")
                .contains("code_challenge_method=S256")
                .contains("scope=openid+offline_access+lodge.enter");
        assertThat(sent.header("Set-Cookie"))
                .contains("HttpOnly")
                .contains("SameSite=Lax")
                .contains("Path=/");
        browser.open(backFromIssuer(sent, "tobias"));
        assertThat(browser.cookies.keySet()).hasSize(1).first().asString().startsWith("admit_session_");

        browser.cookies.put("theirs", "kept");
        Wire.Answer page = browser.open("/lodge/desk?page=2");
        assertThat(page.status()).as(page.body()).isEqualTo(200);
        JsonNode got = page.json();
        assertThat(got.path("admit-person").asString()).isNotEmpty();
        assertThat(got.path("admit-proof").asString()).isNotEmpty();
        assertThat(got.path("cookie").asString())
                .as("the gateway's cookie is no backend's")
                .isEqualTo("theirs=kept");
        assertThat(got.has("authorization")).isFalse();
        assertThat(operator.decision(page).path("checks").toString()).contains("\"session\"");
    }

    @Test
    void aScriptIsToldAndNotSentAnywhere() throws Exception {
        Wire.Answer script = new Browser().send("GET", "/lodge/desk", "Accept", "application/json");
        assertThat(script.status()).isEqualTo(401);
        assertThat(script.json().path("reason").asString()).isEqualTo("sign-in-needed");
        assertThat(new Browser()
                        .send("GET", "/lodge/desk", "Accept", HTML, "Sec-Fetch-Mode", "cors")
                        .status())
                .isEqualTo(401);
        assertThat(new Browser().send("POST", "/lodge/desk", "Accept", HTML).status())
                .isEqualTo(401);
        assertThat(Wire.call("GET", demo.gateway() + "/lodge/desk", "nonsense")
                        .json()
                        .path("reason")
                        .asString())
                .as("a bearer token is judged as one")
                .isEqualTo("malformed-token");
    }

    @Test
    void anAnswerThatThisBrowserDidNotAskForSignsNobodyIn() throws Exception {
        Browser attacker = new Browser();
        String theirs = backFromIssuer(attacker.open("/lodge/desk"), "tobias");
        Browser victim = new Browser();
        assertThat(victim.open(theirs).status()).as("without having asked").isEqualTo(400);
        victim.open("/lodge/desk");
        assertThat(victim.open(theirs).status()).as("another state").isEqualTo(400);
        assertThat(victim.cookies.keySet()).noneMatch(it -> it.startsWith("admit_session_"));
        Browser owner = new Browser();
        String own = backFromIssuer(owner.open("/lodge/desk"), "tobias");
        assertThat(owner.open(own.replaceFirst("iss=[^&]+", "iss=https%3A%2F%2Felsewhere.example"))
                        .status())
                .isEqualTo(400);
    }

    @Test
    void aRequestThatAnotherSiteHasSentChangesNothing() throws Exception {
        Browser browser = signedIn("tobias");
        assertThat(browser.send("POST", "/lodge/desk", "Sec-Fetch-Site", "same-origin")
                        .status())
                .isEqualTo(200);
        for (String site : List.of("cross-site", "same-site")) {
            Wire.Answer no = browser.send("POST", "/lodge/desk", "Sec-Fetch-Site", site);
            assertThat(no.status()).isEqualTo(403);
            assertThat(no.json().path("reason").asString()).isEqualTo("from-another-site");
        }
        assertThat(browser.send("POST", "/lodge/desk", "Origin", "https://evil.example")
                        .status())
                .isEqualTo(403);
        assertThat(browser.send("POST", "/lodge/desk", "Origin", demo.gateway()).status())
                .isEqualTo(200);
        assertThat(browser.send("GET", "/_admit/sign-out", "Sec-Fetch-Site", "cross-site")
                        .status())
                .isEqualTo(403);
    }

    @Test
    void whatIsNotSealedByThisServiceIsNobodysSession() throws Exception {
        Browser browser = signedIn("tobias");
        String name = browser.session();
        String good = browser.cookies.get(name);
        for (String bad : List.of(
                "x",
                good.substring(1),
                good.substring(0, good.length() - 2),
                (good.charAt(9) == 'A' ? good.replaceFirst("^(.{9}).", "$1B") : good.replaceFirst("^(.{9}).", "$1A")),
                "A".repeat(9_000))) {
            browser.cookies.put(name, bad);
            assertThat(browser.send("GET", "/lodge/desk", "Accept", "application/json")
                            .status())
                    .as(bad.length() + " characters")
                    .isEqualTo(401);
        }
        browser.cookies.put(name, good);
        assertThat(browser.open("/lodge/desk").status()).isEqualTo(200);
        Wire.Answer elsewhere = browser.open("/office/berths");
        assertThat(elsewhere.status()).as("another API has its own session").isEqualTo(303);
    }

    @Test
    void aSessionIsRenewedOnceForAllOfAPagesRequests() throws Exception {
        Browser browser = signedIn("isolde");
        Thread.sleep(3_000); // the token of 32 s is then over, but for the 30 s that are left for its way
        int before = renewals();
        Map<String, String> cookie =
                Map.of("Cookie", browser.session() + "=" + browser.cookies.get(browser.session()), "Accept", HTML);
        List<Wire.Answer> answers = new ArrayList<>();
        try (var pool = Executors.newFixedThreadPool(12)) {
            List<Callable<Wire.Answer>> calls = new ArrayList<>();
            for (int i = 0; i < 24; i++)
                calls.add(() -> Wire.send("GET", demo.gateway() + "/lodge/part", cookie, null));
            for (Future<Wire.Answer> one : pool.invokeAll(calls)) answers.add(one.get());
        }
        assertThat(answers)
                .allSatisfy(it -> assertThat(it.status()).as(it.body()).isEqualTo(200));
        assertThat(answers).allSatisfy(it -> assertThat(it.header("Set-Cookie")).startsWith("admit_session_"));
        assertThat(answers).as("no cache hands the session on").allSatisfy(it -> assertThat(
                        it.response().headers().allValues("Cache-Control"))
                .containsExactly("private, no-store"));
        assertThat(answers).allSatisfy(it -> assertThat(it.header("Expires")).isEmpty());
        assertThat(renewals() - before)
                .as("one refresh, and nobody thought that the token was stolen")
                .isEqualTo(1);
    }

    private static int renewals() throws Exception {
        Thread.sleep(600); // what was decided is kept in batches
        int renewals = 0;
        for (JsonNode it : operator.get("/decisions?client=lodge-desk&endpoint=token&limit=200")
                .json()
                .path("items")) {
            if (it.path("verdict").asString().equals("admitted")
                    && it.toString().contains("refresh-token")) renewals++;
        }
        return renewals;
    }

    @Test
    void signingOutEndsTheSessionAndLeadsOnToTheIssuer() throws Exception {
        Browser browser = signedIn("tobias");
        String name = browser.session();
        String old = browser.cookies.get(name);
        Wire.Answer out = browser.open("/_admit/sign-out", "Sec-Fetch-Site", "same-origin");
        assertThat(out.status()).isEqualTo(303);
        assertThat(out.header("Location")).startsWith(demo.server() + "/harbour/end-session?client_id=cl_");
        assertThat(browser.cookies).isEmpty();
        browser.cookies.put(name, old);
        assertThat(browser.send("GET", "/lodge/desk", "Accept", "application/json")
                        .status())
                .as("a copy of the cookie is worth nothing")
                .isEqualTo(401);
        assertThat(new Browser().open("/_admit/sign-out").body()).contains("Nobody is signed in here.");
    }

    @Test
    void aHostThatIsNotRegisteredIsSentNowhere() throws Exception {
        String answer = Wire.raw(
                demo.gatewayPort,
                "GET /lodge/desk HTTP/1.1\r\nHost: evil.example\r\nAccept: text/html\r\nConnection: close\r\n\r\n");
        assertThat(answer).startsWith("HTTP/1.1 401").doesNotContain("Location:");
        String id = answer.replaceFirst("(?s).*Admit-Decision: (\\S+).*", "$1");
        assertThat(operator.get("/decisions/" + id).json().path("done").toString())
                .contains("http://evil.example/_admit/signed-in is no redirect URI of lodge-desk");
    }

    @Test
    void aRouteSignsInOnlyAsAClientThatPeopleCanComeBackTo() throws Exception {
        String wanted =
                "{\"path\":\"/nobody/**\",\"api\":\"lodge\",\"scopes\":[\"lodge.enter\"],\"who\":{\"sign_in\":\"%s\"}}";
        assertThat(operator.harbour("POST", "/routes", wanted.formatted("tide-buoy-07"))
                        .body())
                .contains("a client of the kind web");
        operator.harbour(
                "POST",
                "/clients",
                "{\"name\":\"no-way-back\",\"kind\":\"web\",\"redirect_uris\":[\"http://127.0.0.1:9/back\"]}");
        assertThat(operator.harbour("POST", "/routes", wanted.formatted("no-way-back"))
                        .body())
                .contains("a redirect URI that ends in /_admit/signed-in");
    }

    @Test
    void theDemosOfficeGreetsWhoSignedIn() throws Exception {
        Browser browser = new Browser();
        browser.open(backFromIssuer(browser.open("/office/berths"), "isolde"));
        Wire.Answer page = browser.open("/office/berths");
        assertThat(page.status()).as(page.body()).isEqualTo(200);
        assertThat(page.body()).contains("Berth office").contains("Sign out").contains("Grey Heron");
    }
}
