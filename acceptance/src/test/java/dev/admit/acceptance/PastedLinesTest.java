package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.regex.MatchResult;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.api.parallel.ResourceLock;
import tools.jackson.databind.JsonNode;

/**
 * People choose their addresses, owners choose scopes and redirect URIs; others paste what Admit prints. It is taken as
 * it stands, and none of it runs.
 */
@ResourceLock(Running.DEMO)
class PastedLinesTest {
    private static final String EMAIL = "a`harm`&harm|harm$x@saltmarsh.example";
    private static final String SCOPE = "it's:$(harm);`harm`&harm";
    private static final String REDIRECT = "https://berths.saltmarsh.example/back;harm'&harm'$x";
    private static final Pattern COMMAND = Pattern.compile("\\badmit [a-z-]+ [a-z-]+ .*$", Pattern.MULTILINE);
    private static Running demo;
    private static Operator operator;

    @TempDir
    Path folder;

    @BeforeAll
    static void start() throws Exception {
        demo = Running.demo();
        operator = Operator.of(demo);
        made("POST", "/apis", Map.of("name", "pasted"));
        made(
                "POST",
                "/apis/pasted/scopes",
                Map.of("name", SCOPE, "effect", "reads", "reach", "everyone", "for", "both"));
        made("POST", "/people", Map.of("email", EMAIL));
        made("POST", "/owners", Map.of("person", EMAIL, "api", "pasted"));
    }

    private static JsonNode made(String method, String path, Map<String, Object> members) throws Exception {
        Wire.Answer answer = operator.harbour(method, path, Running.JSON.writeValueAsString(members));
        assertThat(answer.status()).as(answer.body()).isBetween(200, 299);
        return answer.json();
    }

    private static JsonNode secondSecret(Map<String, Object> client) throws Exception {
        made("POST", "/clients", client);
        made("POST", "/approvals/grant", Map.of("scopes", List.of(SCOPE), "client", client.get("name")));
        return made("POST", "/clients/" + client.get("name") + "/secrets", Map.of())
                .path("secret");
    }

    @Test
    void settingsAndLinesOfCurlAreTakenAsTheyStand() throws Exception {
        JsonNode machine = secondSecret(Map.of("name", "pasted-machine"));
        JsonNode web = secondSecret(Map.of("name", "pasted-web", "kind", "web", "redirect_uris", List.of(REDIRECT)));
        JsonNode checking =
                operator.harbour("GET", "/apis/pasted/checking", null).json();
        for (JsonNode it : List.of(connecting("pasted-machine"), connecting("pasted-web"), machine, web, checking)) {
            Files.writeString(folder.resolve("settings"), it.path("env").asString());
            String read = shell("set -a; . ./settings; printenv ISSUER SCOPE REDIRECT_URI");
            assertThat(read).contains(demo.server() + "/harbour");
            if (it.path("env").asString().contains("SCOPE")) assertThat(read).contains(SCOPE);
            if (it.path("env").asString().contains("REDIRECT_URI"))
                assertThat(read).contains(REDIRECT);
        }
        assertThat(shell(machine.path("curl").asString())).contains("access_token");
        assertThat(shell(web.path("curl").asString())).contains("invalid_grant");
    }

    private static JsonNode connecting(String client) throws Exception {
        return operator.harbour("GET", "/clients/" + client + "/connecting", null)
                .json();
    }

    @Test
    void commandsAboutAScopeNameItWhole() throws Exception {
        assertThat(pasted(demo.admit("client", "add", "pasted-asker", "--scope", SCOPE, "--issuer", "harbour")
                        .all()))
                .contains(SCOPE);
        assertThat(pasted(demo.admit("client", "show", "pasted-asker", "--issuer", "harbour")
                        .all()))
                .contains(SCOPE);
        assertThat(pasted(demo.admit(
                                "scope",
                                "change",
                                "pasted",
                                SCOPE,
                                "--consequence",
                                "See what was pasted.",
                                "--issuer",
                                "harbour")
                        .all()))
                .contains(SCOPE);
        String asked = operator.harbour("GET", "/outbox?limit=200&to=" + Wire.encoded(EMAIL), null)
                .json()
                .path("items")
                .valueStream()
                .map(it -> it.path("body").asString())
                .filter(it -> it.contains("requests"))
                .findFirst()
                .orElseThrow();
        assertThat(pasted(asked)).contains(SCOPE);
    }

    @Test
    void commandsAboutAPersonNameThemWhole() throws Exception {
        assertThat(pasted(demo.admit("person", "show", EMAIL, "--issuer", "harbour")
                        .all()))
                .contains(EMAIL);
        assertThat(pasted(demo.admit("person", "change", EMAIL, "--profile", "given_name=A", "--issuer", "harbour")
                        .all()))
                .contains(EMAIL);
        assertThat(pasted(demo.admit("person", "off", EMAIL, "--issuer", "harbour")
                        .all()))
                .contains(EMAIL);
        assertThat(pasted(
                        demo.admit("person", "on", EMAIL, "--issuer", "harbour").all()))
                .contains(EMAIL);
    }

    @Test
    void theFixOfARefusalNamesThePersonWhole() throws Exception {
        String email = "b" + EMAIL;
        made("POST", "/people", Map.of("email", email, "password", "sluice-gate-mist-anchor"));
        made("POST", "/people/" + Wire.encoded(email) + "/off", Map.of());
        Visitor.Seen page = new Visitor(demo).get("/harbour/sign-in");
        Visitor.Seen refused = page.send("/harbour/sign-in", "email", email, "password", "sluice-gate-mist-anchor");
        assertThat(refused.status()).isBetween(400, 403);
        JsonNode decision = operator.get("/decisions?reason=person-switched-off&limit=1")
                .json()
                .path("items")
                .get(0);
        String explained = demo.admit("explain", decision.path("id").asString()).all();
        assertThat(pasted(explained)).contains(email);
    }

    /**
     * A word that was chosen by the one who registers or signs up reaches a command through the one place that quotes
     * it.
     */
    @Test
    void noCommandIsPutTogetherWithoutQuotes() throws Exception {
        // A literal may go on in another one; what goes on in a value is put together by hand.
        String more = "(?:\\s*\\+\\s*\"[^\"\\n]*\")*";
        Pattern unquoted = Pattern.compile("\"[^\"\\n]*\\badmit [a-z-]+ [a-z-]+(?:[^\"\\n]*%s[^\"\\n]*\"" + more
                + "\\s*\\)?\\s*\\.formatted|[^\"\\n]* \"" + more + "\\s*\\+\\s*[^\"\\s])");
        List<String> found = new ArrayList<>();
        for (String module : List.of("core", "server", "gateway", "cli")) {
            try (Stream<Path> files =
                    Files.walk(Running.projectRoot().resolve(module).resolve("src/main/java"))) {
                for (Path file :
                        files.filter(it -> it.toString().endsWith(".java")).toList()) {
                    unquoted.matcher(Files.readString(file))
                            .results()
                            .forEach(it -> found.add(file.getFileName() + ": " + it.group()));
                }
            }
        }
        assertThat(found).as("Command.of and Http.command quote each word").isEmpty();
    }

    /** Pastes every command that a text has, with a stand-in for Admit that says its words. */
    private String pasted(String text) throws Exception {
        List<String> commands =
                COMMAND.matcher(text).results().map(MatchResult::group).toList();
        assertThat(commands).as(text).isNotEmpty();
        StringBuilder words = new StringBuilder();
        for (String command : commands) words.append(shell(command));
        return words.toString();
    }

    private String shell(String line) throws Exception {
        Path programs = Files.createDirectories(folder.resolve("programs"));
        for (Map.Entry<String, String> it : Map.of(
                        "harm",
                        "#!/bin/sh\ntouch '%s'\n".formatted(folder.resolve("harmed")),
                        "admit",
                        "#!/bin/sh\nprintf '%s\\n' \"$@\"\n")
                .entrySet()) {
            Path program = Files.writeString(programs.resolve(it.getKey()), it.getValue());
            assertThat(program.toFile().setExecutable(true)).isTrue();
        }
        ProcessBuilder builder =
                new ProcessBuilder("sh", "-c", line).directory(folder.toFile()).redirectErrorStream(true);
        builder.environment().merge("PATH", programs.toString(), (path, ours) -> ours + ":" + path);
        Process process = builder.start();
        String out = new String(process.getInputStream().readAllBytes());
        process.waitFor();
        assertThat(folder.resolve("harmed")).as(line).doesNotExist();
        return out;
    }
}
