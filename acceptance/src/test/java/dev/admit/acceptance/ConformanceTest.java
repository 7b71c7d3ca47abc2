package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.nimbusds.jose.util.Base64URL;
import com.sun.net.httpserver.HttpServer;
import java.net.InetSocketAddress;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.parallel.ResourceLock;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import tools.jackson.databind.JsonNode;

/** What a suite written from the standards alone found. */
@ResourceLock(Running.DEMO)
class ConformanceTest {
    private static Running demo;
    private static Operator operator;
    private static HttpServer upstream;
    private static final AtomicInteger REACHED = new AtomicInteger();

    @BeforeAll
    static void start() throws Exception {
        demo = Running.demo();
        operator = Operator.of(demo);
        upstream = HttpServer.create(new InetSocketAddress("127.0.0.1", 0), 0);
        upstream.createContext("/", exchange -> {
            try (exchange) {
                REACHED.incrementAndGet();
                byte[] body = exchange.getRequestBody().readAllBytes();
                exchange.sendResponseHeaders(200, body.length == 0 ? -1 : body.length);
                exchange.getResponseBody().write(body);
            }
        });
        upstream.start();
        Wire.Answer made = operator.harbour(
                "POST",
                "/routes",
                "{\"path\":\"/letter/**\",\"open\":true,\"upstream\":\"http://127.0.0.1:%d\"}"
                        .formatted(upstream.getAddress().getPort()));
        assertThat(made.status()).as(made.body()).isEqualTo(201);
    }

    @AfterAll
    static void stop() {
        upstream.stop(0);
    }

    // Tokens.

    private static int gateway(String token) throws Exception {
        return Wire.call("GET", demo.gateway() + "/tides/north-quay", token).status();
    }

    @Test
    void jsonOfEveryTypeInEveryPlaceOfATokenIs401() throws Exception {
        String[] good = Wire.token(demo, "tide-buoy-07", "&scope=tides.read").split("\\.");
        List<String> wrong = new ArrayList<>();
        List<String> values = List.of(
                "null",
                "[]",
                "1",
                "\"x\"",
                "true",
                "{}",
                "{\"alg\":null}",
                "{\"alg\":1}",
                "{\"alg\":\"ES256\",\"kid\":null}",
                "{\"alg\":\"ES256\",\"kid\":[]}",
                "{\"alg\":\"ES256\",\"typ\":{}}",
                "{\"alg\":\"ES256\",\"crit\":null}",
                "{\"alg\":\"ES256\",\"crit\":1}",
                "{\"alg\":\"ES256\",\"alg\":\"ES256\"}",
                "[".repeat(3_000),
                "{\"a\":".repeat(500) + "1" + "}".repeat(500),
                "{\"iss\":null}",
                "{\"iss\":[]}",
                "{\"alg\":\"ES256\",\"b64\":false,\"crit\":[\"b64\"]}",
                "",
                "\u0000");
        for (String value : values) {
            String encoded = Base64URL.encode(value).toString();
            for (String token : List.of(
                    encoded + "." + good[1] + "." + good[2],
                    good[0] + "." + encoded + "." + good[2],
                    good[0] + "." + good[1] + "." + encoded,
                    encoded + "." + encoded + "." + encoded)) {
                int status = gateway(token);
                int admin = Wire.call("GET", demo.server() + "/admin/issuers", token)
                        .status();
                if (status != 401 && status != 400 || admin != 401 && admin != 400)
                    wrong.add(status + " " + admin + " " + value.substring(0, Math.min(40, value.length())));
            }
        }
        assertThat(wrong).isEmpty();
    }

    @Test
    void aTokenHasOneSpelling() throws Exception {
        String good = Wire.token(demo, "tide-buoy-07", "&scope=tides.read");
        String alphabet = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789-_";
        int last = alphabet.indexOf(good.charAt(good.length() - 1));
        assertThat(gateway(good)).isEqualTo(200);
        for (int bits = 1; bits < 16; bits++)
            assertThat(gateway(good.substring(0, good.length() - 1) + alphabet.charAt(last ^ bits)))
                    .isEqualTo(401);
        for (String more : List.of("=", "==")) assertThat(gateway(good + more)).isEqualTo(401);
        JsonNode client = demo.ready().path("clients").path("tide-buoy-07");
        String introspect = demo.ready().path("issuers").path("harbour").asString() + "/introspect";
        assertThat(Wire.form(introspect, Wire.basic(client), "token=" + Wire.encoded(good))
                        .json()
                        .path("active")
                        .asBoolean())
                .isTrue();
        for (String more : List.of(" ", "=", "\n"))
            assertThat(Wire.form(introspect, Wire.basic(client), "token=" + Wire.encoded(good + more))
                            .json()
                            .path("active")
                            .asBoolean())
                    .isFalse();
    }

    @Test
    void anAccessTokenIsNoHintOfWhoSignsOut() throws Exception {
        JsonNode tokens = Visitor.tokens(demo, "berth-desk", "isolde", "openid berths.read");
        String client = demo.ready()
                .path("clients")
                .path("berth-desk")
                .path("client_id")
                .asString();
        Visitor isolde = new Visitor(demo);
        Visitor.signIn(isolde.get("/harbour/sign-in"), demo, "isolde");
        String withHint = isolde.get("/harbour/end-session?client_id=" + client + "&id_token_hint="
                        + tokens.path("access_token").asString())
                .text();
        assertThat(withHint)
                .as("asks, as without a hint")
                .isEqualTo(
                        isolde.get("/harbour/end-session?client_id=" + client).text());
    }

    // The token endpoint.

    @ParameterizedTest(name = "{0} without {1}")
    @CsvSource(textBlock = """
            authorization_code,                            code,          berth-desk
            refresh_token,                                 refresh_token, berth-desk
            urn:ietf:params:oauth:grant-type:device_code,  device_code,   ferry-kiosk""")
    void aMissingParameterIsAnInvalidRequest(String grantType, String parameter, String client) throws Exception {
        Wire.Answer answer = Visitor.token(demo, client, "grant_type=" + Wire.encoded(grantType));
        assertThat(answer.status()).isEqualTo(400);
        assertThat(answer.json().path("error").asString()).isEqualTo("invalid_request");
        assertThat(answer.json().path("error_description").asString()).contains(parameter);
        assertThat(Visitor.token(demo, client, "grant_type=" + Wire.encoded(grantType) + "&" + parameter + "=wrong")
                        .json()
                        .path("error")
                        .asString())
                .isEqualTo("invalid_grant");
        assertThat(answer.header("Pragma")).as("RFC 6749 §5.1").isEqualTo("no-cache");
        assertThat(answer.header("Cache-Control")).isEqualTo("no-store");
    }

    // Stepping up.

    @Test
    void aClientsOwnTokenIsToldThatAPersonMustSignIn() throws Exception {
        assertThat(operator.harbour(
                                "POST",
                                "/routes",
                                "{\"path\":\"/fresh\","
                                        + "\"methods\":[\"GET\"],"
                                        + "\"api\":\"tides\",\"scopes\":[\"tides.read\"],"
                                        + "\"who\":{\"max_age\":\"5m\"},\"fixed_response\":{\"body\":\"fresh\"}}")
                        .status())
                .isEqualTo(201);
        Wire.Answer answer =
                Wire.call("GET", demo.gateway() + "/fresh", Wire.token(demo, "tide-buoy-07", "&scope=tides.read"));
        assertThat(answer.status()).isEqualTo(401);
        assertThat(answer.header("WWW-Authenticate"))
                .contains("insufficient_user_authentication")
                .contains("max_age=300");
        assertThat(operator.decision(answer).path("fix").toString() + answer.body())
                .contains("No client gets such a token on its own");
    }

    // HTTP to the letter.

    @ParameterizedTest
    @ValueSource(
            strings = {
                "zz\r\nx\r\n0\r\n\r\n",
                "-1\r\nx\r\n0\r\n\r\n",
                "1\nx\n0\n\n",
                "1\r\nx\n0\r\n\r\n",
                "0x1\r\nx\r\n0\r\n\r\n",
                " 1\r\nx\r\n0\r\n\r\n",
                "\r\n",
                "ffffffffffffffffff\r\nx\r\n0\r\n\r\n"
            })
    void aBodyThatBreaksTheLetterNeverReachesTheUpstream(String chunks) throws Exception {
        int before = REACHED.get();
        String answer = Wire.raw(
                demo.gatewayPort,
                "POST /letter/x HTTP/1.1\r\nHost: localhost\r\nTransfer-Encoding: chunked\r\n\r\n" + chunks);
        assertThat(answer).startsWith("HTTP/1.1 400");
        assertThat(answer.indexOf("HTTP/1.1", 5)).as("one answer").isNegative();
        assertThat(REACHED.get()).isEqualTo(before);
    }

    @Test
    void oneThatBreaksItLaterIsTheCallersFault() throws Exception {
        try (java.net.Socket socket = new java.net.Socket("127.0.0.1", demo.gatewayPort)) {
            socket.setSoTimeout(10_000);
            for (String part : List.of(
                    "POST /letter/x HTTP/1.1\r\nHost: localhost\r\nTransfer-Encoding: chunked\r\n\r\n1\r\na\r\n",
                    "zz\r\nb\r\n0\r\n\r\n")) {
                socket.getOutputStream().write(part.getBytes(java.nio.charset.StandardCharsets.US_ASCII));
                socket.getOutputStream().flush();
                Thread.sleep(300); // so that the first part is on its way to the upstream
            }
            assertThat(new String(socket.getInputStream().readAllBytes(), java.nio.charset.StandardCharsets.US_ASCII))
                    .startsWith("HTTP/1.1 400");
        }
    }

    @Test
    void goodChunksGoThrough() throws Exception {
        assertThat(Wire.raw(
                        demo.gatewayPort,
                        "POST /letter/x HTTP/1.1\r\nHost: localhost\r\nTransfer-Encoding: "
                                + "chunked\r\nConnection: close\r\n\r\n3\r\nabc\r\n4;x=y\r\ndefg\r\n0\r\n\r\n"))
                .startsWith("HTTP/1.1 200")
                .contains("abcdefg");
        assertThat(Wire.raw(
                        demo.gatewayPort,
                        "POST /letter/x HTTP/1.1\r\nHost: localhost\r\nTransfer-Encoding: "
                                + "chunked\r\nConnection: close\r\n\r\n0\r\n\r\n"))
                .as("and none at all")
                .startsWith("HTTP/1.1 200");
    }

    @Test
    void theRightSpellingIsServedAgainAndAgain() throws Exception {
        assertThat(Wire.raw(demo.port, "GET /harbour/jwks HTTP/1.1\r\nHost: localhost\r\nConnection: close\r\n\r\n"))
                .startsWith("HTTP/1.1 200");
        String one = "GET http://localhost/letter/x HTTP/1.1\r\nHost: localhost\r\n\r\n";
        assertThat(Wire.raw(
                                demo.gatewayPort,
                                one + "\r\n" + one
                                        + "GET /letter/x HTTP/1.1\r\nHost: localhost\r\nConnection: close\r\n\r\n")
                        .split("HTTP/1.1 200", -1))
                .hasSize(4);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "GET /letter/x HTTP/1.1\nHost: localhost\n\n",
                "GET /letter/x HTTP/1.1\r\nHost: localhost\nX-A: b\r\n\r\n",
                "GET /letter/x http/1.1\r\nHost: localhost\r\n\r\n",
                "GET http://localhost/letter/x http/1.1\r\nHost: localhost\r\n\r\n",
                "\r\nGET /letter/x http/1.0\r\nHost: localhost\r\n\r\n",
                "GET /letter/x HTTP/1.1\r\nHost : localhost\r\n\r\n"
            })
    void otherSpellingsOfHttpAreRefused(String request) throws Exception {
        int before = REACHED.get();
        assertThat(Wire.raw(demo.gatewayPort, request)).doesNotStartWith("HTTP/1.1 2");
        assertThat(REACHED.get()).isEqualTo(before);
        assertThat(Wire.raw(demo.port, request.replace("/letter/x", "/harbour/jwks")))
                .as("the authorization server")
                .doesNotStartWith("HTTP/1.1 2");
    }

    @Test
    void noMethodShowsARequestAndNoAnswerTellsAVersion() throws Exception {
        for (String address : List.of(
                demo.gateway() + "/tides/north-quay",
                demo.server() + "/harbour/jwks",
                demo.server() + "/admin/issuers",
                demo.server() + "/console")) {
            Wire.Answer answer = Wire.send("TRACE", address, Map.of("Authorization", "Bearer a-secret"), null);
            assertThat(answer.status()).as(address).isBetween(400, 499);
            assertThat(answer.body()).as(address).doesNotContain("a-secret");
            assertThat(answer.header("Server")).as(address).isEmpty();
            assertThat(Wire.get(address).header("Server")).as(address).isEmpty();
        }
    }

    // Introspection.

    @Test
    void aClientThatAnAdministratorNamedIntrospectsForOthers() throws Exception {
        Cast cast = Cast.of(demo);
        JsonNode made = operator.harbour("POST", "/clients", "{\"name\":\"gateway-elsewhere\"}")
                .json();
        JsonNode credential = Running.JSON.readTree("{\"client_id\":\"%s\",\"client_secret\":\"%s\"}"
                .formatted(
                        made.path("now").path("client_id").asString(),
                        made.path("secret").path("secret").asString()));
        String token = Wire.token(demo, "tide-buoy-07", "&scope=tides.read");
        String introspect = demo.ready().path("issuers").path("harbour").asString() + "/introspect";
        assertThat(Wire.form(introspect, Wire.basic(credential), "token=" + token)
                        .json()
                        .path("active")
                        .asBoolean())
                .as("its own tokens alone")
                .isFalse();
        String path = demo.server() + "/admin/issuers/harbour/clients/gateway-elsewhere";
        for (String who :
                List.of("operator of harbour", "auditor of harbour", "owner of harbour", "administrator of gullwing")) {
            assertThat(patch(path, cast.people.get(who).token())).as(who).isEqualTo(403);
        }
        assertThat(Wire.send(
                                "POST",
                                demo.server() + "/admin/issuers/harbour/clients",
                                Map.of(
                                        "Authorization",
                                        "Bearer "
                                                + cast.people
                                                        .get("operator of harbour")
                                                        .token(),
                                        "Content-Type",
                                        "application/json"),
                                "{\"name\":\"another-elsewhere\",\"may_introspect\":true}")
                        .status())
                .isEqualTo(403);
        assertThat(patch(path, cast.people.get("administrator of harbour").token()))
                .isEqualTo(200);
        JsonNode told =
                Wire.form(introspect, Wire.basic(credential), "token=" + token).json();
        assertThat(told.path("active").asBoolean()).isTrue();
        assertThat(told.path("scope").asString()).isEqualTo("tides.read");
        assertThat(operator.get("/issuers/harbour/setup?client=gateway-elsewhere")
                        .body())
                .contains("may_introspect: true");
        assertThat(demo.admit("client", "show", "gateway-elsewhere").out())
                .containsPattern("Introspects +every token of its issuer");
        assertThat(demo.admit("client", "change", "gateway-elsewhere", "--may-introspect", "false")
                        .exitCode())
                .isZero();
        assertThat(Wire.form(introspect, Wire.basic(credential), "token=" + token)
                        .json()
                        .path("active")
                        .asBoolean())
                .isFalse();
        assertThat(operator.harbour("PATCH", "/clients/quayside-board", "{\"may_introspect\":true}")
                        .status())
                .as("a client without a credential")
                .isEqualTo(422);
    }

    private static int patch(String path, String token) throws Exception {
        return Wire.send(
                        "PATCH",
                        path,
                        Map.of("Authorization", "Bearer " + token, "If-Match", "*", "Content-Type", "application/json"),
                        "{\"may_introspect\":true}")
                .status();
    }
}
