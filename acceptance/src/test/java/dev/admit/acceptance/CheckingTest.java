package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.nimbusds.jose.jwk.gen.ECKeyGenerator;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.api.parallel.ResourceLock;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import tools.jackson.databind.JsonNode;

/** The examples for an API that checks tokens itself, each run against tokens that are good and tokens that are not. */
@ResourceLock(Running.DEMO)
class CheckingTest {
    private static final Path JOSE = Running.projectRoot().resolve(".build/jose");
    private static Running demo;
    private static Operator operator;
    private static JsonNode client;
    private static JsonNode values;
    private static String good;
    private static String expired;
    private static long expiredAt;

    @TempDir
    Path folder;

    @BeforeAll
    static void start() throws Exception {
        demo = Running.demo();
        operator = Operator.of(demo);
        operator.harbour("POST", "/apis", "{\"name\":\"self\",\"audience\":\"https://self.saltmarsh.example\"}");
        for (String scope : List.of("read", "write"))
            operator.harbour(
                    "POST",
                    "/apis/self/scopes",
                    "{\"name\":\"self.%s\",\"effect\":\"reads\",\"reach\":\"everyone\",\"for\":\"clients\"}"
                            .formatted(scope));
        client = operator.approvedClient("self-caller", "self.read");
        operator.harbour("PATCH", "/apis/self/minting", "{\"lifetime\":\"1s\"}");
        expired = Wire.form(
                        demo.server() + "/harbour/token",
                        Wire.basic(client),
                        "grant_type=client_credentials&scope=self.read")
                .json()
                .path("access_token")
                .asString();
        expiredAt = System.currentTimeMillis() + 1_000;
        operator.harbour("PATCH", "/apis/self/minting", "{\"lifetime\":\"15m\"}");
        good = Wire.form(
                        demo.server() + "/harbour/token",
                        Wire.basic(client),
                        "grant_type=client_credentials&scope=self.read")
                .json()
                .path("access_token")
                .asString();
        values = operator.harbour("GET", "/apis/self/checking", null).json();
        if (Files.isDirectory(JOSE.resolve("node_modules/jose"))) return; // ./verify has installed it
        Files.createDirectories(JOSE);
        assertThat(new ProcessBuilder(
                                "npm",
                                "install",
                                "--silent",
                                "--no-package-lock",
                                "--no-audit",
                                "--no-fund",
                                "--prefix",
                                JOSE.toString(),
                                "jose@6")
                        .redirectErrorStream(true) // not this process's own, over which it is told what to run
                        .redirectOutput(ProcessBuilder.Redirect.DISCARD)
                        .start()
                        .waitFor())
                .isZero();
    }

    private record Result(int exitCode, String out) {}

    private Result run(String example, String token, String scope) throws Exception {
        Files.writeString(
                folder.resolve(example), values.path("code").path(example).asString());
        if (!Files.exists(folder.resolve("node_modules")))
            Files.createSymbolicLink(folder.resolve("node_modules"), JOSE.resolve("node_modules"));
        String nimbus = Running.jar("nimbus-jose-jwt");
        List<String> command =
                switch (example) {
                    case "Check.java" -> List.of(Running.java(), "-cp", nimbus, "Check.java", token, scope);
                    case "check.mjs" -> List.of("node", "check.mjs", token, scope);
                    default -> List.of("/usr/bin/python3", "check.py", token, scope);
                };
        ProcessBuilder builder =
                new ProcessBuilder(command).directory(folder.toFile()).redirectErrorStream(true);
        builder.environment().putAll(Running.env(values));
        Process process = builder.start();
        String out = new String(process.getInputStream().readAllBytes());
        return new Result(process.waitFor(), out);
    }

    @ParameterizedTest
    @ValueSource(strings = {"Check.java", "check.mjs", "check.py"})
    void theExampleAdmitsWhatIsGoodAndRefusesWhatIsNot(String example) throws Exception {
        Result admitted = run(example, good, "self.read");
        assertThat(admitted.out())
                .isEqualTo("admitted " + client.path("client_id").asString() + "\n");

        String[] parts = good.split("\\.");
        byte[] signature = Base64.getUrlDecoder().decode(parts[2]);
        signature[5] ^= 1;
        var thief = new ECKeyGenerator(com.nimbusds.jose.jwk.Curve.P_256)
                .keyID(com.nimbusds.jose.JWSObject.parse(good).getHeader().getKeyID())
                .generate();
        var forged = new com.nimbusds.jose.JWSObject(
                com.nimbusds.jose.JWSObject.parse(good).getHeader(),
                com.nimbusds.jose.JWSObject.parse(good).getPayload());
        forged.sign(new com.nimbusds.jose.crypto.ECDSASigner(thief));
        String none = Base64.getUrlEncoder()
                        .withoutPadding()
                        .encodeToString("{\"alg\":\"none\",\"typ\":\"at+jwt\"}".getBytes())
                + "." + parts[1] + ".";
        Map<String, String> bad = Map.of(
                "a changed signature",
                parts[0] + "." + parts[1] + "."
                        + Base64.getUrlEncoder().withoutPadding().encodeToString(signature),
                "another's key",
                forged.serialize(),
                "no signature",
                none,
                "another audience",
                Wire.token(demo, "tide-buoy-07", "&scope=tides.read"));
        for (var one : bad.entrySet())
            assertThat(run(example, one.getValue(), "self.read"))
                    .as(one.getKey())
                    .satisfies(CheckingTest::isRefused);
        Result lacking = run(example, good, "self.write");
        assertThat(lacking.out()).isEqualTo("refused: insufficient_scope\n");
        Thread.sleep(Math.max(
                0, expiredAt + 31_000 - System.currentTimeMillis())); // beyond the leeway for clocks of each library
        assertThat(run(example, expired, "self.read")).as("an expired token").satisfies(CheckingTest::isRefused);
    }

    private static void isRefused(Result received) {
        assertThat(received.exitCode()).isEqualTo(1);
        assertThat(received.out()).startsWith("refused: ");
    }

    @Test
    void theCommandLinePrintsValuesAndExamplesReadyToPaste() throws Exception {
        assertThat(demo.admit("api", "checking", "tides", "--env").out())
                .contains("AUDIENCE=https://tides.saltmarsh.example\n")
                .contains("ALGORITHMS=ES256");
        assertThat(demo.admit("api", "checking", "tides", "--code", "check.py").out())
                .startsWith("# Checks access tokens");
        assertThat(demo.admit("api", "checking", "tides").out())
                .contains("until it expires")
                .contains("tides.publish tides.read");
        assertThat(demo.admit("api", "checking", "tides", "--code", "check.rb").exitCode())
                .isEqualTo(2);
    }
}
