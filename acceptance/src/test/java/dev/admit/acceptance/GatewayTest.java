package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.nimbusds.jose.JOSEObjectType;
import com.nimbusds.jose.JWSAlgorithm;
import com.nimbusds.jose.JWSHeader;
import com.nimbusds.jose.JWSObject;
import com.nimbusds.jose.Payload;
import com.nimbusds.jose.crypto.ECDSASigner;
import com.nimbusds.jose.crypto.MACSigner;
import com.nimbusds.jose.jwk.Curve;
import com.nimbusds.jose.jwk.JWKSet;
import com.nimbusds.jose.jwk.gen.ECKeyGenerator;
import com.nimbusds.jose.util.Base64URL;
import com.sun.net.httpserver.HttpServer;
import java.net.InetSocketAddress;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.concurrent.Executors;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import tools.jackson.databind.JsonNode;

/** What the gateway lets through, what it refuses, and what a backend gets to see. */
class GatewayTest {
    @TempDir
    static java.nio.file.Path folder;

    private static Running demo;
    private static Operator operator;
    private static HttpServer depot;
    private static String good;

    @BeforeAll
    static void start() throws Exception {
        demo = Running.demo(folder, "--largest-body", "100000", "--upstream-idle", "2");
        operator = Operator.of(demo);
        good = Wire.token(demo, "tide-buoy-07", "&scope=tides.read");
        depot = HttpServer.create(new InetSocketAddress("127.0.0.1", 0), 0);
        depot.setExecutor(Executors.newVirtualThreadPerTaskExecutor());
        depot.createContext("/depot/slow", exchange -> {
            try {
                Thread.sleep(8000);
            } catch (InterruptedException stopped) {
                Thread.currentThread().interrupt();
            }
            exchange.close();
        });
        depot.createContext("/depot/echo", exchange -> {
            try (exchange) {
                byte[] body = exchange.getRequestBody().readAllBytes();
                exchange.getResponseHeaders().add("Admit-Caller", "forged by the backend");
                exchange.getResponseHeaders()
                        .add("X-Query", String.valueOf(exchange.getRequestURI().getRawQuery()));
                exchange.getResponseHeaders().add("Location", "/depot/elsewhere");
                exchange.sendResponseHeaders(307, body.length == 0 ? -1 : body.length);
                exchange.getResponseBody().write(body);
            }
        });
        depot.start();
        String upstream = "http://127.0.0.1:" + depot.getAddress().getPort();
        made(operator.harbour(
                "POST", "/routes", "{\"path\":\"/depot/**\",\"open\":true,\"upstream\":\"%s\"}".formatted(upstream)));
        made(operator.harbour(
                "POST",
                "/routes",
                "{\"path\":\"/down/**\",\"open\":true,\"upstream\":\"http://127.0.0.1:%d\"}"
                        .formatted(Running.freePort())));
    }

    private static void made(Wire.Answer answer) {
        assertThat(answer.status()).as(answer.body()).isEqualTo(201);
    }

    @AfterAll
    static void stop() {
        depot.stop(0);
        demo.close();
    }

    private static String reason(Wire.Answer answer) {
        return answer.status() + " " + answer.json().path("reason").asString();
    }

    private static Wire.Answer tides(String token) throws Exception {
        return Wire.call("GET", demo.gateway() + "/tides/north-quay", token);
    }

    @Test
    void theBackendSeesWhoCalledAndNeverTheToken() throws Exception {
        Map<String, String> headers = new LinkedHashMap<>();
        headers.put("Authorization", "Bearer " + good);
        for (String forged : new String[] {
            "Admit-Caller",
            "admit-person",
            "ADMIT-SCOPES",
            "Admit_Caller",
            "Admit-Anything",
            "Forwarded",
            "X-Forwarded-For",
            "X-Forwarded-Host"
        }) headers.put(forged, "forged");
        headers.put("X-Own", "kept");
        Wire.Answer answer = Wire.send("GET", demo.gateway() + "/received?a=b", headers, null);
        JsonNode seen = answer.json().path("headers");
        Map<String, String> lower = new LinkedHashMap<>();
        seen.properties()
                .forEach(header -> lower.put(
                        header.getKey().toLowerCase(java.util.Locale.ROOT),
                        header.getValue().asString()));
        assertThat(lower)
                .containsEntry(
                        "admit-caller",
                        demo.ready()
                                .path("clients")
                                .path("tide-buoy-07")
                                .path("client_id")
                                .asString())
                .containsEntry("admit-scopes", "tides.read")
                .containsEntry("admit-issuer", "harbour")
                .containsEntry("x-own", "kept")
                .containsEntry("admit-decision", answer.header("Admit-Decision"))
                .doesNotContainKeys(
                        "authorization",
                        "admit-person",
                        "admit_caller",
                        "admit-anything",
                        "x-forwarded-for",
                        "x-forwarded-host");
        assertThat(lower.values())
                .noneMatch(value -> value.contains("forged"))
                .noneMatch(value -> value.contains(good));
        assertThat(lower.get("host")).as("the upstream's own name").doesNotContain(String.valueOf(demo.gatewayPort));
        assertThat(answer.json().path("query").asString()).isEqualTo("a=b");
    }

    /** A good token taken apart and put together wrongly; the words say how. */
    private static String token(String how) throws Exception {
        JWSObject parsed = JWSObject.parse(good);
        Map<String, Object> claims = new LinkedHashMap<>(parsed.getPayload().toJSONObject());
        String kid = parsed.getHeader().getKeyID();
        return switch (how) {
            case "as fetched" -> good;
            case "one bit changed" ->
                good.substring(0, good.length() - 10)
                        + (good.charAt(good.length() - 10) == 'A' ? 'B' : 'A')
                        + good.substring(good.length() - 9);
            case "claims changed" -> {
                claims.put("scope", "tides.read tides.publish");
                String[] parts = good.split("\\.");
                yield parts[0] + "." + new Payload(claims).toBase64URL() + "." + parts[2];
            }
            case "own key" -> signed(claims, kid);
            case "alg none" ->
                Base64URL.encode("{\"alg\":\"none\",\"typ\":\"at+jwt\",\"kid\":\"" + kid + "\"}") + "."
                        + new Payload(claims).toBase64URL() + ".";
            case "public key as secret" -> {
                var key = JWKSet.parse(Wire.get(demo.server() + "/harbour/jwks").body())
                        .getKeyByKeyId(kid)
                        .toECKey();
                JWSObject forged = new JWSObject(
                        new JWSHeader.Builder(JWSAlgorithm.HS256)
                                .type(new JOSEObjectType("at+jwt"))
                                .keyID(kid)
                                .build(),
                        new Payload(claims));
                forged.sign(new MACSigner(key.toECPublicKey().getEncoded()));
                yield forged.serialize();
            }
            case "gullwing's" -> {
                operator.post(
                        "/issuers/gullwing/apis",
                        "{\"name\":\"ferries\","
                                + "\"audience\":\"https://tides.saltmarsh.example\",\"upstream\":\"http://127.0.0.1:"
                                + "1\"}");
                operator.post(
                        "/issuers/gullwing/apis/ferries/scopes",
                        "{\"name\":\"tides.read\","
                                + "\"effect\":\"reads\",\"reach\":\"everyone\",\"for\":\"clients\"}");
                JsonNode made = operator.post(
                                "/issuers/gullwing/clients", "{\"name\":\"gull\",\"scopes\":[\"tides.read\"]}")
                        .json();
                operator.post(
                        "/issuers/gullwing/approvals/"
                                + made.path("now")
                                        .path("scopes")
                                        .get(0)
                                        .path("id")
                                        .asString() + "/grant",
                        "{}");
                JsonNode client = Running.JSON.readTree("{\"client_id\":\"%s\",\"client_secret\":\"%s\"}"
                        .formatted(
                                made.path("now").path("client_id").asString(),
                                made.path("secret").path("secret").asString()));
                yield Wire.form(
                                demo.server() + "/gullwing/token",
                                Wire.basic(client),
                                "grant_type=client_credentials&scope=tides.read")
                        .json()
                        .path("access_token")
                        .asString();
            }
            case "for berths" -> Wire.token(demo, "old-crane", "&scope=berths.read");
            case "publish only" -> Wire.token(demo, "tide-buoy-07", "&scope=tides.publish");
            default -> how;
        };
    }

    private static String signed(Map<String, Object> claims, String kid) throws Exception {
        JWSObject forged = new JWSObject(
                new JWSHeader.Builder(JWSAlgorithm.ES256)
                        .type(new JOSEObjectType("at+jwt"))
                        .keyID(kid)
                        .build(),
                new Payload(claims));
        forged.sign(new ECDSASigner(new ECKeyGenerator(Curve.P_256).generate()));
        return forged.serialize();
    }

    @ParameterizedTest(name = "{0}: {1}")
    @CsvSource(textBlock = """
            as fetched,           200
            one bit changed,      401 bad-signature
            claims changed,       401 bad-signature
            own key,              401 bad-signature
            alg none,             401 wrong-algorithm
            public key as secret, 401 wrong-algorithm
            gullwing's,           401 wrong-issuer
            for berths,           401 wrong-audience
            publish only,         403 insufficient-scope
            garbage,              401 malformed-token
            a b,                  400 malformed-authorization""", quoteCharacter = '"')
    void eachTokenGetsItsAnswer(String how, String expected) throws Exception {
        Wire.Answer answer = tides(token(how));
        assertThat(answer.status() == 200 ? "200" : reason(answer)).isEqualTo(expected);
        if (answer.status() == 200) return;
        assertThat(answer.header("WWW-Authenticate"))
                .startsWith("Bearer realm=\"tides\"")
                .contains("error=\"")
                .contains(
                        answer.status() == 403
                                ? "insufficient_scope"
                                : answer.status() == 400 ? "invalid_request" : "invalid_token");
        JsonNode decision = operator.decision(answer);
        assertThat(decision.path("reason").asString()).isEqualTo(expected.substring(4));
        assertThat(decision.path("answered").asInt()).isEqualTo(answer.status());
        assertThat(decision.path("revision").asInt()).isPositive();
    }

    @Test
    void noCredentialsGetABareChallenge() throws Exception {
        Wire.Answer answer = Wire.get(demo.gateway() + "/tides/north-quay");
        assertThat(answer.status()).isEqualTo(401);
        assertThat(answer.header("WWW-Authenticate")).isEqualTo("Bearer realm=\"tides\"");
        assertThat(answer.header("Content-Type")).isEqualTo("application/problem+json");
        assertThat(answer.json().path("fix").path("sentence").asString()).isNotBlank();
    }

    @Test
    void aTokenInTheQueryAndTwoTokensAreRefused() throws Exception {
        assertThat(reason(Wire.call("GET", demo.gateway() + "/tides/x?access_token=" + good, good)))
                .isEqualTo("400 token-in-query");
        String twice = Wire.raw(
                demo.gatewayPort,
                ("GET /tides/x HTTP/1.1\r\nHost: x\r\nAuthorization: Bearer %s\r\nAuthorization: Bearer "
                                + "%s\r\nConnection: close\r\n\r\n")
                        .formatted(good, good));
        assertThat(twice).startsWith("HTTP/1.1 400").contains("two-tokens");
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "/tides/../berths/n1",
                "/tides/%2e%2e/berths/n1",
                "/tides%2fnorth-quay",
                "//tides/north-quay",
                "/tides//north-quay",
                "/tides/%5c..%5cberths",
                "/tides/x;y=z",
                "/tides/%00",
                "/tides/%252e%252e/berths",
                "/./tides",
                "/tides/\\..\\berths",
                "/tides/%c0%ae%c0%ae/"
            })
    void aPathThatCouldBeReadTwoWaysNeverReachesABackend(String path) throws Exception {
        String answer = Wire.raw(
                demo.gatewayPort,
                "GET %s HTTP/1.1\r\nHost: x\r\nAuthorization: Bearer %s\r\nConnection: close\r\n\r\n"
                        .formatted(path, good));
        assertThat(answer).startsWith("HTTP/1.1 400").contains("application/problem+json");
    }

    @ParameterizedTest(name = "{0}")
    @ValueSource(
            strings = {
                "POST /depot/echo HTTP/1.1\r\nHost: x\r\nContent-Length: 3\r\nTransfer-Encoding: "
                        + "chunked\r\n\r\n0\r\n\r\nGET /smuggled HTTP/1.1\r\nHost: x\r\n\r\n",
                "POST /depot/echo HTTP/1.1\r\nHost: x\r\nContent-Length: 3\r\nContent-Length: 4\r\n\r\nabcd",
                "POST /depot/echo HTTP/1.1\r\nHost: x\r\nTransfer-Encoding: xchunked\r\n\r\n0\r\n\r\n",
                "GET /depot/echo HTTP/1.1\r\nHost: x\r\nX-A: b\r\n folded: c\r\n\r\n",
                "GET /depot/echo HTTP/1.1\r\nHost: x\r\nBad Name: c\r\n\r\n",
                "GET /depot/echo HTTP/1.1\r\nHost: x\r\nHost: y\r\n\r\n",
                "GET /depot/echo HTTP/1.1\r\n\r\n",
                "NONSENSE\r\n\r\n"
            })
    void ambiguousRequestsEndAtTheParser(String request) throws Exception {
        String answer = Wire.raw(demo.gatewayPort, request);
        assertThat(answer).startsWith("HTTP/1.1 4").contains("Admit-Decision: dec_");
        assertThat(answer.indexOf("HTTP/1.1", 8)).as("one answer only").isNegative();
    }

    @Test
    void headersThatAreTooLargeAreRefused() throws Exception {
        assertThat(Wire.raw(
                        demo.gatewayPort,
                        "GET /status HTTP/1.1\r\nHost: x\r\nX-Big: %s\r\n\r\n".formatted("a".repeat(40_000))))
                .startsWith("HTTP/1.1 431")
                .contains("headers-too-large");
    }

    @Test
    void whatMatchesNoRouteGetsPlainWordsAndOtherMethodsAreNamed() throws Exception {
        Wire.Answer nothing = Wire.get(demo.gateway() + "/nowhere");
        assertThat(reason(nothing)).isEqualTo("404 no-route");
        assertThat(nothing.json().path("detail").asString()).contains("Nothing answers at this path");
        Wire.Answer other = Wire.call("DELETE", demo.gateway() + "/tides/x", good);
        assertThat(reason(other)).isEqualTo("405 method-not-allowed");
        assertThat(other.header("Allow")).isEqualTo("GET, HEAD");
        assertThat(Wire.get(demo.gateway() + "/_admit/x").status()).isEqualTo(404);
    }

    @Test
    void anUpstreamThatIsDownSlowOrRedirectsIsToldApart() throws Exception {
        Wire.Answer down = Wire.get(demo.gateway() + "/down/x");
        assertThat(down.status()).isEqualTo(502);
        assertThat(down.json().path("detail").asString()).contains("could not be reached");
        Wire.Answer slow = Wire.get(demo.gateway() + "/depot/slow");
        assertThat(slow.status()).isEqualTo(504);
        assertThat(operator.decision(slow).path("verdict").asString())
                .as("the request itself was good")
                .isEqualTo("admitted");
        Wire.Answer redirect = Wire.get(demo.gateway() + "/depot/echo");
        assertThat(redirect.status()).as("passed on, not followed").isEqualTo(307);
        assertThat(redirect.header("Admit-Caller"))
                .as("a backend cannot speak for the gateway")
                .isEmpty();
    }

    @Test
    void aQueryReachesTheUpstreamInOneSpelling() throws Exception {
        String answer = Wire.raw(
                demo.gatewayPort,
                "GET /depot/echo?a=%zz|\"b\"&c=%C3%A9 HTTP/1.1\r\nHost: x\r\nConnection: close\r\n\r\n");
        assertThat(answer).containsIgnoringCase("X-Query: a=%25zz%7C%22b%22&c=%C3%A9");
    }

    @Test
    void aBodyThatIsTooLargeIsRefusedAnnouncedOrNot() throws Exception {
        // Refused on the header alone. A body still on its way when the connection closes could cost the sender the
        // answer.
        String announced = Wire.raw(
                demo.gatewayPort,
                "POST /depot/echo HTTP/1.1\r\nHost: x\r\nContent-Length: 100001\r\nConnection: close\r\n\r\n");
        assertThat(announced).startsWith("HTTP/1.1 413").contains("body-too-large");
        String chunk = "2000\r\n" + "x".repeat(0x2000) + "\r\n";
        String chunked = Wire.raw(
                demo.gatewayPort,
                "POST /depot/echo HTTP/1.1\r\nHost: x\r\nTransfer-Encoding: chunked\r\nConnection: close\r\n\r\n"
                        + chunk.repeat(13) + "0\r\n\r\n");
        assertThat(chunked).startsWith("HTTP/1.1 413").contains("body-too-large");
        String fits = Wire.raw(
                demo.gatewayPort,
                "POST /depot/echo HTTP/1.1\r\nHost: x\r\nTransfer-Encoding: chunked\r\nConnection: close\r\n\r\n"
                        + chunk.repeat(10) + "0\r\n\r\n");
        assertThat(fits).startsWith("HTTP/1.1 307");
    }

    @Test
    void aHeadRequestIsAnsweredWhereGetIs() throws Exception {
        Wire.Answer head = Wire.call("HEAD", demo.gateway() + "/tides/north-quay", good);
        assertThat(head.status()).isEqualTo(200);
        assertThat(head.body()).isEmpty();
        assertThat(Wire.send("HEAD", demo.gateway() + "/tides/north-quay", Map.of(), null)
                        .status())
                .isEqualTo(401);
    }

    @Test
    void aChangeOfRoutesIsLiveWhenItsCommandReturns() throws Exception {
        for (int round = 0; round < 5; round++) {
            Wire.Answer made = operator.harbour(
                    "POST",
                    "/routes",
                    ("{\"methods\":[\"GET\"],"
                                    + "\"path\":\"/bell\",\"open\":true,\"fixed_response\":{\"status\":203,\"body\""
                                    + ":\"%d\"}}")
                            .formatted(round));
            int revision = made.json().path("revision").asInt();
            assertThat(Wire.get(demo.gateway() + "/bell").body()).isEqualTo(String.valueOf(round));
            String path = "/routes/" + made.json().path("now").path("id").asString();
            Wire.Answer changed = operator.harbour(
                    "PUT",
                    path,
                    "{\"methods\":[\"GET\"],\"path\":\"/bell\",\"api\":\"tides\","
                            + "\"scopes\":[\"tides.read\"],\"fixed_response\":{\"body\":\"rung\"}}");
            assertThat(changed.json().path("revision").asInt()).isEqualTo(revision + 1);
            assertThat(Wire.get(demo.gateway() + "/bell").status()).isEqualTo(401);
            assertThat(Wire.call("GET", demo.gateway() + "/bell", good).body()).isEqualTo("rung");
            assertThat(operator.send("DELETE", "/issuers/harbour" + path, null, null)
                            .status())
                    .isEqualTo(200);
            assertThat(Wire.get(demo.gateway() + "/bell").status()).isEqualTo(404);
        }
    }

    @Test
    void anyOfTheScopesIsEnoughWhereTheRouteSaysSo() throws Exception {
        JsonNode inspector = operator.approvedClient("inspector", "manifests.inspect");
        String token = Wire.form(
                        demo.server() + "/harbour/token",
                        Wire.basic(inspector),
                        "grant_type=client_credentials&scope=manifests.inspect")
                .json()
                .path("access_token")
                .asString();
        assertThat(Wire.call("GET", demo.gateway() + "/manifests/v-204", token).status())
                .isEqualTo(200);
        operator.harbour(
                "POST",
                "/routes",
                "{\"methods\":[\"GET\"],\"path\":\"/both\",\"api\":\"manifests\",\"scopes\":[\"manifests.read\",\"ma"
                        + "nifests.inspect\"],\"fixed_response\":{\"body\":\"x\"}}");
        Wire.Answer refused = Wire.call("GET", demo.gateway() + "/both", token);
        assertThat(reason(refused)).isEqualTo("403 insufficient-scope");
        assertThat(refused.header("WWW-Authenticate")).contains("scope=\"manifests.read manifests.inspect\"");
    }
}
