package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.sun.net.httpserver.HttpServer;
import java.net.InetSocketAddress;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.parallel.ResourceLock;
import tools.jackson.databind.JsonNode;

/**
 * What the gateway itself presents: a header, a login, a token that it fetches; through sockets, with an upstream that
 * takes nothing else.
 */
@ResourceLock(Running.DEMO)
class UpstreamCredentialTest {
    private static Running demo;
    private static Operator operator;
    private static String token;
    private static HttpServer upstream;
    private static final AtomicInteger FETCHED = new AtomicInteger();
    private static volatile String taken = "";

    @BeforeAll
    static void start() throws Exception {
        demo = Running.demo();
        operator = Operator.of(demo);
        upstream = HttpServer.create(new InetSocketAddress("127.0.0.1", 0), 0);
        upstream.setExecutor(Executors.newVirtualThreadPerTaskExecutor());
        upstream.createContext("/token", exchange -> {
            try (exchange) {
                taken = "Bearer fetched-" + FETCHED.incrementAndGet();
                byte[] body = "{\"access_token\":\"%s\",\"token_type\":\"Bearer\",\"expires_in\":600}"
                        .formatted(taken.substring(7))
                        .getBytes();
                exchange.sendResponseHeaders(200, body.length);
                exchange.getResponseBody().write(body);
            }
        });
        upstream.createContext("/", exchange -> {
            try (exchange) {
                exchange.getRequestBody().readAllBytes();
                String received = exchange.getRequestHeaders().getFirst("Authorization") + "|"
                        + exchange.getRequestHeaders().getFirst("X-Key");
                boolean good = exchange.getRequestURI().getPath().startsWith("/fetched")
                        ? received.startsWith(taken + "|")
                        : true;
                byte[] body = received.getBytes();
                if (!good) exchange.getResponseHeaders().set("WWW-Authenticate", "Bearer realm=\"inner\"");
                exchange.sendResponseHeaders(good ? 200 : 401, body.length);
                exchange.getResponseBody().write(body);
            }
        });
        upstream.start();
        token = Wire.form(
                        demo.ready().path("issuers").path("harbour").asString() + "/token",
                        Wire.basic(operator.approvedClient("warned-launch", "tides.read")),
                        "grant_type=client_credentials")
                .json()
                .path("access_token")
                .asString();
    }

    @AfterAll
    static void stop() {
        upstream.stop(0);
    }

    private static String url() {
        return "http://127.0.0.1:" + upstream.getAddress().getPort();
    }

    private static void credential(String name, String secret, String... words) throws Exception {
        List<String> all = new ArrayList<>(List.of("upstream-credential", "add", name, "--upstream", url()));
        all.addAll(List.of(words));
        Running.Said said = demo.admit(secret + "\n", Map.of(), all.toArray(String[]::new));
        assertThat(said.exitCode()).as(said.err()).isZero();
        assertThat(said.out()).doesNotContain(secret);
    }

    private static void route(String path, String credential) throws Exception {
        Running.Said said = demo.admit(
                "route",
                "add",
                "GET,POST",
                path,
                "--api",
                "tides",
                "--scope",
                "tides.read",
                "--upstream",
                url(),
                "--credential",
                credential);
        assertThat(said.exitCode()).as(said.err()).isZero();
    }

    @Test
    void theDemosWarningsComeWithATokenOfTheCoastguard() throws Exception {
        Running.Said call = demo.admit("call", "GET", "/warnings", "--as", "tide-buoy-07", "--scope", "tides.read");
        assertThat(call.out()).contains("fog until noon").contains("patrol-boat");
        Running.Said check = demo.admit("upstream-credential", "check", "coastguard-warnings", "--path", "/warnings");
        assertThat(check.exitCode()).as(check.out() + check.err()).isZero();
        assertThat(check.out())
                .contains("● metadata")
                .contains("● token endpoint")
                .contains("a bearer token for 10m")
                .contains("/warnings answered 200");
        assertThat(demo.admit("upstream-credential", "check", "coastguard-warnings", "--path", "/nowhere")
                        .out())
                .contains("answered 404");
        assertThat(demo.admit("upstream-credential", "check", "coastguard-warnings", "--path", "/../x")
                        .exitCode())
                .isEqualTo(0);
    }

    @Test
    void aHeaderAndALoginReachTheUpstreamAndNobodyElse() throws Exception {
        credential("fixed-key", "k-12345-secret", "--header", "X-Key");
        credential("desk-login", "p-98765-secret", "--user", "desk");
        route("/keyed", "fixed-key");
        route("/logged-in", "desk-login");

        Wire.Answer keyed = Wire.send(
                "GET", demo.gateway() + "/keyed", Map.of("Authorization", "Bearer " + token, "X-Key", "forged"), null);
        assertThat(keyed.body()).isEqualTo("null|k-12345-secret");
        assertThat(Wire.call("GET", demo.gateway() + "/logged-in", token).body())
                .startsWith("Basic ZGVzazpwLTk4NzY1LXNlY3JldA==");

        String everything =
                demo.admit("upstream-credential", "show", "fixed-key", "--json").out()
                        + demo.admit("upstream-credential", "list").out()
                        + demo.admit("setup", "export").out()
                        + demo.admit("audit", "list", "--json").out()
                        + operator.decision(keyed);
        assertThat(everything).contains("fixed-key").doesNotContain("k-12345").doesNotContain("p-98765");
        assertThat(demo.said()).doesNotContain("k-12345");
    }

    @Test
    void aTokenIsFetchedOnceForManyAndAnotherWhenItWasRefused() throws Exception {
        credential(
                "fetched-token",
                "s-token-secret",
                "--client-id",
                "gate",
                "--token-endpoint",
                url() + "/token",
                "--auth",
                "body",
                "--scope",
                "a b");
        route("/fetched", "fetched-token");
        int before = FETCHED.get();
        try (var callers = Executors.newFixedThreadPool(16)) {
            List<Callable<Integer>> calls = new ArrayList<>();
            for (int i = 0; i < 64; i++)
                calls.add(() ->
                        Wire.call("GET", demo.gateway() + "/fetched", token).status());
            for (Future<Integer> one : callers.invokeAll(calls))
                assertThat(one.get()).isEqualTo(200);
        }
        assertThat(FETCHED.get()).isEqualTo(before + 1);

        taken = "Bearer another"; // the upstream takes the old one no longer
        Wire.Answer again = Wire.call("GET", demo.gateway() + "/fetched", token);
        assertThat(again.status()).as(again.body()).isEqualTo(200);
        assertThat(FETCHED.get()).isEqualTo(before + 2);
        assertThat(operator.decision(again).path("done").toString()).contains("another was fetched");

        taken = "Bearer another";
        Wire.Answer withBody = Wire.send(
                "POST",
                demo.gateway() + "/fetched",
                Map.of("Authorization", "Bearer " + token, "Content-Type", "text/plain"),
                "a body that is gone");
        assertThat(withBody.status()).as("a body cannot be sent twice").isEqualTo(502);
        assertThat(withBody.header("WWW-Authenticate"))
                .as("the upstream's challenge is none of the caller's")
                .isEmpty();
        assertThat(Wire.call("GET", demo.gateway() + "/fetched", token).status())
                .isEqualTo(200);
    }

    @Test
    void aCredentialCannotBeLedElsewhere() throws Exception {
        credential("led-away", "l-1-secret", "--header", "X-Key");
        Running.Said elsewhere = demo.admit(
                "route",
                "add",
                "GET",
                "/led",
                "--api",
                "tides",
                "--scope",
                "tides.read",
                "--upstream",
                "http://127.0.0.1:1",
                "--credential",
                "led-away");
        assertThat(elsewhere.exitCode()).isEqualTo(1);
        assertThat(elsewhere.err().replaceAll("\\s+", " "))
                .contains("transform/credential")
                .contains("which is for " + url());
        Running.Said moved =
                demo.admit("upstream-credential", "change", "led-away", "--upstream", "http://127.0.0.1:1");
        assertThat(moved.exitCode()).isEqualTo(1);
        assertThat(moved.err()).contains("secret:").contains("Send the secret");

        route("/led", "led-away");
        assertThat(demo.admit("upstream-credential", "remove", "led-away").err())
                .contains("GET,POST /led presents it");
        JsonNode routes =
                operator.harbour("GET", "/routes?limit=200", null).json().path("items");
        String id = null;
        for (JsonNode one : routes)
            if (one.path("path").asString().equals("/led")) id = one.path("id").asString();
        assertThat(operator.send("DELETE", "/issuers/harbour/routes/" + id, null, null)
                        .status())
                .isLessThan(300);
        assertThat(demo.admit("upstream-credential", "remove", "led-away").exitCode())
                .isZero();
    }

    @Test
    void anIssuerThatGivesNoTokenIsToldInTheDecisionAndNotToTheCaller() throws Exception {
        credential(
                "nowhere-token", "n-1-secret", "--client-id", "gate", "--token-endpoint", "http://127.0.0.1:1/token");
        route("/no-token", "nowhere-token");
        Wire.Answer answer = Wire.call("GET", demo.gateway() + "/no-token", token);
        assertThat(answer.status()).isEqualTo(502);
        assertThat(answer.body()).contains("could not get what it presents").doesNotContain("127.0.0.1:1");
        assertThat(operator.decision(answer).path("done").toString())
                .contains("nowhere-token could not be had: token endpoint");
        Running.Said check = demo.admit("upstream-credential", "check", "nowhere-token");
        assertThat(check.exitCode()).isEqualTo(1);
        assertThat(check.out()).contains("⊟ token endpoint");
    }

    @Test
    void aSetupFileNamesWhereTheSecretComesFromAndNeverTheSecret() throws Exception {
        java.nio.file.Path file = java.nio.file.Files.createTempFile("setup", ".yaml");
        java.nio.file.Files.writeString(
                file,
                ("issuer: harbour\nupstream_credentials:\n  from-file:\n    upstream: %s\n    header: X-Key\n    "
                                + "secret: {from_env: KEY_OF_UPSTREAM}\n")
                        .formatted(url()));
        Running.Said loaded = demo.admit(
                "",
                Map.of("KEY_OF_UPSTREAM", "e-777-secret"),
                "setup",
                "load",
                file.toString(),
                "--confirm",
                "harbour");
        assertThat(loaded.exitCode()).as(loaded.err()).isZero();
        assertThat(loaded.out()).contains("+ upstream credential from-file").doesNotContain("e-777");
        assertThat(demo.admit("upstream-credential", "remove", "from-file").exitCode())
                .isZero();
    }
}
