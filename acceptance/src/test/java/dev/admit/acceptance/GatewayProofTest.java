package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.nimbusds.jose.JWSObject;
import com.nimbusds.jose.jwk.gen.ECKeyGenerator;
import com.sun.net.httpserver.HttpServer;
import java.net.InetSocketAddress;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.api.parallel.ResourceLock;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.JsonNode;

/**
 * The proof that a request came through the gateway: what it says, how long it is used again, and that backends can
 * check it.
 */
@ResourceLock(Running.DEMO)
class GatewayProofTest {
    private static final BlockingQueue<String> SEEN = new LinkedBlockingQueue<>();
    private static Running demo;
    private static Operator operator;
    private static HttpServer backend;
    private static String token;

    @TempDir
    static Path folder;

    @BeforeAll
    static void start() throws Exception {
        demo = Running.demo();
        operator = Operator.of(demo);
        backend = HttpServer.create(new InetSocketAddress("127.0.0.1", 0), 0);
        backend.createContext("/", exchange -> {
            try (exchange) {
                SEEN.add(String.join(", ", exchange.getRequestHeaders().getOrDefault("Admit-Proof", List.of("none"))));
                exchange.sendResponseHeaders(204, -1);
            }
        });
        backend.start();
        String upstream = "http://127.0.0.1:" + backend.getAddress().getPort();
        operator.harbour(
                "POST",
                "/apis",
                "{\"name\":\"piers\",\"audience\":\"https://piers.saltmarsh.example\",\"upstream\":\"%s\"}"
                        .formatted(upstream));
        operator.harbour(
                "POST",
                "/apis/piers/scopes",
                "{\"name\":\"piers.read\",\"effect\":\"reads\",\"reach\":\"everyone\",\"for\":\"clients\"}");
        for (String proof : List.of("reused", "each-request", "none")) {
            Wire.Answer made = operator.harbour(
                    "POST",
                    "/routes",
                    ("{\"path\":\"/piers-%s/**\","
                                    + "\"api\":\"piers\",\"scopes\":[\"piers.read\"],\"transform\":{\"proof\":\"%s\"}}")
                            .formatted(proof, proof));
            assertThat(made.status()).as(made.body()).isEqualTo(201);
        }
        operator.harbour(
                "POST", "/routes", "{\"path\":\"/piers-open\",\"open\":true,\"upstream\":\"%s\"}".formatted(upstream));
        JsonNode client = operator.approvedClient("pier-master", "piers.read");
        token = Wire.form(
                        demo.server() + "/harbour/token",
                        Wire.basic(client),
                        "grant_type=client_credentials&scope=piers.read")
                .json()
                .path("access_token")
                .asString();
    }

    @AfterAll
    static void stop() {
        backend.stop(0);
    }

    private static String proof(String path) throws Exception {
        SEEN.clear();
        assertThat(Wire.send(
                                "GET",
                                demo.gateway() + path,
                                Map.of(
                                        "Authorization",
                                        "Bearer " + token,
                                        "Admit-Proof",
                                        "forged",
                                        "admit_proof",
                                        "forged"),
                                null)
                        .status())
                .isEqualTo(204);
        return SEEN.take();
    }

    private static Map<String, Object> claims(String proof) throws Exception {
        return JWSObject.parse(proof).getPayload().toJSONObject();
    }

    @Test
    void itNamesCallerAndRouteAndNeverWhatTheCallerSent() throws Exception {
        String proof = proof("/piers-reused/a");
        assertThat(JWSObject.parse(proof).getHeader().getType().getType()).isEqualTo("admit-proof+jwt");
        Map<String, Object> claims = claims(proof);
        assertThat(claims)
                .containsEntry(
                        "iss", demo.ready().path("issuers").path("harbour").asString())
                .containsEntry("aud", "https://piers.saltmarsh.example")
                .containsEntry("scope", "piers.read")
                .containsEntry("route", "/piers-reused/**")
                .containsKeys("sub", "client_id", "revision")
                .doesNotContainKeys("path", "jti");
        assertThat((Long) claims.get("exp") - (Long) claims.get("iat")).isEqualTo(60);
    }

    @Test
    void itIsUsedAgainForTheSameTokenAndRouteUnlessItIsBoundToEachRequest() throws Exception {
        assertThat(proof("/piers-reused/a")).isEqualTo(proof("/piers-reused/b"));
        Map<String, Object> one = claims(proof("/piers-each-request/a"));
        Map<String, Object> other = claims(proof("/piers-each-request/b"));
        assertThat(one).containsEntry("method", "GET").containsEntry("path", "/piers-each-request/a");
        assertThat(one.get("jti")).isNotEqualTo(other.get("jti")).asString().startsWith("dec_");
        assertThat(proof("/piers-none/a")).isEqualTo("none");
        assertThat(claims(proof("/piers-open")))
                .containsEntry("route", "/piers-open")
                .doesNotContainKeys("sub", "client_id");
    }

    @Test
    void theBackendsOfTheDemoRefuseWhoeverComesAround() throws Exception {
        String tides = operator.harbour("GET", "/apis/tides", null)
                .json()
                .path("upstream")
                .asString();
        assertThat(Wire.get(tides + "/tides/north-quay").status()).isEqualTo(403);
        assertThat(Wire.send("GET", tides + "/tides/north-quay", Map.of("Authorization", "Bearer " + token), null)
                        .status())
                .isEqualTo(403);
        assertThat(Wire.send("GET", tides + "/tides/north-quay", Map.of("Admit-Proof", proof("/piers-reused/a")), null)
                        .status())
                .as("a gateway proof to another backend")
                .isEqualTo(403);
        assertThat(Wire.send("GET", tides + "/tides/north-quay", Map.of("Admit-Proof", token), null)
                        .status())
                .as("a token is no gateway proof")
                .isEqualTo(403);
        assertThat(Wire.call("GET", demo.gateway() + "/piers-reused/a", proof("/piers-reused/a"))
                        .status())
                .as("and a gateway proof is no token")
                .isEqualTo(401);
    }

    @Test
    void theKeysAreThereForReadingOnly() throws Exception {
        Wire.Answer keys = Wire.get(demo.gateway() + "/_admit/proof-keys");
        assertThat(keys.json().path("keys").size()).isEqualTo(1);
        assertThat(keys.body()).doesNotContain("\"d\"");
        assertThat(Wire.send("POST", demo.gateway() + "/_admit/proof-keys", Map.of(), "x")
                        .status())
                .isEqualTo(405);
    }

    /** The programs of the documents, as they stand there. */
    @ParameterizedTest(name = "{0}")
    @CsvSource({"python, gateway_proof.py", "javascript, gateway_proof.mjs", "java, GatewayProof.java"})
    void theDocumentedChecksLetThroughWhatIsGoodAndNothingElse(String language, String file) throws Exception {
        Matcher code = Pattern.compile("```" + language + "\n(.*?)```", Pattern.DOTALL)
                .matcher(Files.readString(Path.of("..", "docs", "gateway-proof.md")));
        assertThat(code.find()).isTrue();
        Files.writeString(folder.resolve(file), code.group(1));
        String good = proof("/piers-reused/a");
        assertThat(run(file, good)).isEqualTo("through /piers-reused/**\n");
        JWSObject forged = new JWSObject(
                JWSObject.parse(good).getHeader(), JWSObject.parse(good).getPayload());
        forged.sign(new com.nimbusds.jose.crypto.ECDSASigner(new ECKeyGenerator(com.nimbusds.jose.jwk.Curve.P_256)
                .keyID(forged.getHeader().getKeyID())
                .generate()));
        for (String bad :
                List.of(token, forged.serialize(), proof("/piers-open"), good.substring(0, good.lastIndexOf('.') + 1)))
            assertThat(run(file, bad)).startsWith("refused: ");
    }

    private static String run(String file, String proof) throws Exception {
        Path jose = Path.of("..", ".build", "jose", "node_modules").toAbsolutePath();
        if (!Files.exists(folder.resolve("node_modules")))
            Files.createSymbolicLink(folder.resolve("node_modules"), jose);
        String nimbus = Running.jar("nimbus-jose-jwt");
        ProcessBuilder builder = new ProcessBuilder(
                        switch (file) {
                            case "GatewayProof.java" -> List.of(Running.java(), "-cp", nimbus, file, proof);
                            case "gateway_proof.mjs" -> List.of("node", file, proof);
                            default -> List.of("/usr/bin/python3", file, proof);
                        })
                .directory(folder.toFile())
                .redirectErrorStream(true);
        builder.environment()
                .putAll(Map.of(
                        "PROOF_KEYS",
                        demo.gateway() + "/_admit/proof-keys",
                        "ISSUER",
                        demo.ready().path("issuers").path("harbour").asString(),
                        "AUDIENCE",
                        "https://piers.saltmarsh.example"));
        Process process = builder.start();
        return new String(process.getInputStream().readAllBytes())
                        .lines()
                        .reduce((one, last) -> last)
                        .orElse("") + "\n";
    }
}
