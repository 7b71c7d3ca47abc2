package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import dev.admit.acceptance.Visitor.Seen;
import java.io.BufferedReader;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.api.parallel.ResourceLock;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.JsonNode;

/**
 * The connection details of each kind of client, and the programs beside them, run against the demo where their
 * language is on the machine.
 */
@ResourceLock(Running.DEMO)
class ConnectingTest {
    private static Running demo;
    private static Operator operator;

    @TempDir
    Path folder;

    @BeforeAll
    static void start() throws Exception {
        demo = Running.demo();
        operator = Operator.of(demo);
    }

    private static JsonNode details(String client) throws Exception {
        return operator.harbour("GET", "/clients/" + client + "/connecting", null)
                .json();
    }

    /**
     * Starts a program with the settings of its .env, as a developer would.
     *
     * @param more settings that the .env leaves to be filled in
     */
    private Process started(JsonNode details, String file, Map<String, String> more, String... words) throws Exception {
        Files.writeString(folder.resolve(file), details.path("code").path(file).asString());
        List<String> command = new ArrayList<>(
                switch (file.substring(file.lastIndexOf('.'))) {
                    case ".java" -> List.of(Running.java(), "-cp", Running.jar("nimbus-jose-jwt"), file);
                    case ".mjs" -> List.of("node", file);
                    case ".go" -> List.of("go", "run", file);
                    default -> List.of("/usr/bin/python3", file);
                });
        command.addAll(List.of(words));
        ProcessBuilder builder =
                new ProcessBuilder(command).directory(folder.toFile()).redirectErrorStream(true);
        builder.environment().putAll(Running.env(details));
        builder.environment().putAll(more);
        return builder.start();
    }

    private String ran(JsonNode details, String file, Map<String, String> more, String... words) throws Exception {
        Process process = started(details, file, more, words);
        String out = new String(process.getInputStream().readAllBytes());
        assertThat(process.waitFor()).as(out).isZero();
        return out;
    }

    private static String secret(String client) {
        return demo.ready().path("clients").path(client).path("client_secret").asString();
    }

    @ParameterizedTest(name = "{0}: {1}")
    @CsvSource({
        "Connect.java, client_secret_basic",
        "connect.mjs, client_secret_basic",
        "connect.py, client_secret_basic",
        "connect.mjs, client_secret_post",
        "connect.py, client_secret_post",
        "Connect.java, client_secret_post",
        "connect.go, client_secret_basic",
        "connect.go, client_secret_post"
    })
    void aMachineFetchesItsToken(String file, String method) throws Exception {
        String name = "connects-" + Math.abs((file + method).hashCode());
        JsonNode made = operator.harbour(
                        "POST",
                        "/clients",
                        "{\"name\":\"%s\",\"token_endpoint_auth_method\":\"%s\"}".formatted(name, method))
                .json();
        operator.harbour("POST", "/approvals/grant", "{\"client\":\"%s\",\"scopes\":[\"tides.read\"]}".formatted(name));
        String out = ran(
                details(name),
                file,
                Map.of("CLIENT_SECRET", made.path("secret").path("secret").asString()));
        assertThat(Running.JSON.readTree(out).path("scope").asString()).isEqualTo("tides.read");
        if (method.equals("client_secret_post"))
            assertThat(made.path("secret").path("authorization").isNull())
                    .as("no header for a client that proves itself in the body")
                    .isTrue();
    }

    @ParameterizedTest(name = "{0}")
    @CsvSource({"Connect.java", "connect.mjs", "connect.py"})
    void aMachineWithAKeySignsAnAssertion(String file) throws Exception {
        Path key = folder.resolve("key.pem");
        Files.writeString(
                key,
                demo.ready()
                        .path("clients")
                        .path("customs-sync")
                        .path("private_key")
                        .asString());
        assertThat(Running.JSON
                        .readTree(ran(details("customs-sync"), file, Map.of("PRIVATE_KEY", key.toString())))
                        .path("scope")
                        .asString())
                .isEqualTo("manifests.inspect");
    }

    @ParameterizedTest(name = "{1}: {0}")
    @CsvSource({
        "Connect.java, berth-desk",
        "connect.mjs, berth-desk",
        "connect.py, berth-desk",
        "connect.py, pilot-tablet",
        "connect.mjs, pilot-tablet",
        "connect.go, berth-desk",
        "connect.go, pilot-tablet"
    })
    void aPersonSignsInAndTheCodeIsExchanged(String file, String client) throws Exception {
        JsonNode details = details(client);
        Map<String, String> more = secret(client).isEmpty() ? Map.of() : Map.of("CLIENT_SECRET", secret(client));
        String scope = client.equals("berth-desk") ? "openid berths.read" : "openid tides.read";
        String[] begun = ran(details, file, with(more, scope)).strip().split("\\s+");
        Visitor isolde = new Visitor(demo);
        Seen page = Visitor.signIn(isolde.get(begun[0]), demo, "isolde");
        Seen back = Visitor.approve(page);
        assertThat(back.parameter("code")).as(page.text()).isNotEmpty();
        JsonNode tokens =
                Running.JSON.readTree(ran(details, file, with(more, scope), back.parameter("code"), begun[1]));
        assertThat(tokens.path("access_token").asString()).isNotEmpty();
        assertThat(tokens.path("id_token").asString()).isNotEmpty();
    }

    private static Map<String, String> with(Map<String, String> more, String scope) {
        Map<String, String> all = new java.util.HashMap<>(more);
        all.put("SCOPE", scope);
        return all;
    }

    @ParameterizedTest(name = "{0}")
    @CsvSource({"Connect.java", "connect.mjs", "connect.py"})
    void aDeviceWaitsUntilAPersonTypedItsCode(String file) throws Exception {
        Process process = started(details("ferry-kiosk"), file, Map.of());
        BufferedReader out = process.inputReader();
        String shown = out.readLine();
        assertThat(shown).startsWith("Open ");
        String code = shown.substring(shown.lastIndexOf(' ') + 1);
        Visitor tobias = new Visitor(demo);
        Seen asked = Visitor.signIn(tobias.get("/harbour/device?user_code=" + code), demo, "tobias");
        asked.send("/harbour/device/answer", "answer", "yes");
        assertThat(Running.JSON.readTree(out.readLine()).path("access_token").asString())
                .isNotEmpty();
        assertThat(process.waitFor()).isZero();
    }

    @Test
    void eachKindHasWhatItNeedsAndNoSecret() throws Exception {
        JsonNode web = details("berth-desk");
        assertThat(web.path("redirect_uri").asString()).isEqualTo("http://127.0.0.1:9495/back");
        assertThat(web.path("pkce").asString()).isEqualTo("S256");
        assertThat(web.path("audiences").toString()).contains("https://berths.saltmarsh.example");
        assertThat(web.path("env").asString())
                .contains("AUTH_METHOD=client_secret_post\nCLIENT_SECRET=\n")
                .contains("AUTHORIZATION_ENDPOINT=");
        JsonNode page = details("quayside-board");
        assertThat(page.path("env").asString()).doesNotContain("SECRET");
        assertThat(page.path("code").propertyNames()).containsExactly("connect.js");
        JsonNode machine = details("tide-buoy-07");
        assertThat(machine.path("authorization_endpoint").isNull()).isTrue();
        assertThat(machine.path("code").propertyNames())
                .containsExactly("Connect.java", "connect.mjs", "connect.py", "connect.go", "Connect.cs");
        for (JsonNode it : List.of(web, machine)) assertThat(it.toString()).doesNotContain("admsec_");
        assertThat(demo.admit("client", "connecting", "berth-desk").out())
                .contains("S256")
                .contains("http://127.0.0.1:9495/back")
                .contains("Connect.cs");
    }
}
