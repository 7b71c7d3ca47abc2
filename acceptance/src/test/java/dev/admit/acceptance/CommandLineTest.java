package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.api.parallel.ResourceLock;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** The command line on its own: from nothing to an admitted request, following its hints; its manners. */
@ResourceLock(Running.DEMO)
class CommandLineTest {
    @TempDir
    static Path folder;

    private static Running demo;

    @BeforeAll
    static void start() throws Exception {
        demo = Running.demo();
    }

    private static Running.Said done(String... words) throws Exception {
        Running.Said said = demo.admit(words);
        assertThat(said.exitCode())
                .as("%s: %s%s", String.join(" ", words), said.out(), said.err())
                .isZero();
        return said;
    }

    @Test
    void fromNothingToAnAdmittedRequestAndBack() throws Exception {
        String upstream =
                done("api", "show", "tides", "--json").json().path("upstream").asString();
        done("issuer", "add", "pier", "--title", "The Pier");
        assertThat(done("api", "add", "lamps", "--upstream", upstream, "--issuer", "pier")
                        .out())
                .contains("audience was proposed")
                .contains("Next: admit scope add");
        assertThat(done(
                                "scope",
                                "add",
                                "lamps",
                                "lamps.read",
                                "--effect",
                                "reads",
                                "--reach",
                                "everyone",
                                "--for",
                                "clients",
                                "--issuer",
                                "pier")
                        .out())
                .contains("Note: The consequence was proposed");
        Running.Said client =
                done("client", "add", "lamp-lighter", "--scope", "lamps.read", "--keep", "--issuer", "pier");
        assertThat(client.out())
                .contains("never again")
                .contains("Authorization: Basic ")
                .contains("Next: admit approval grant lamp-lighter lamps.read --issuer pier");
        assertThat(done("client", "show", "lamp-lighter", "--issuer", "pier").out())
                .contains("◐ waiting  lamps.read")
                .contains("Missing  It requests lamps.read: an administrator must approve");
        done("approval", "grant", "lamp-lighter", "lamps.read", "--issuer", "pier", "--until", "30d");
        assertThat(done("client", "show", "lamp-lighter", "--issuer", "pier").out())
                .contains("Nothing is missing");
        assertThat(done(
                                "route",
                                "add",
                                "GET",
                                "/lamps/**",
                                "--api",
                                "lamps",
                                "--scope",
                                "lamps.read",
                                "--fixed-response",
                                "lit",
                                "--issuer",
                                "pier")
                        .out())
                .contains("live with revision 1");
        assertThat(done("call", "GET", "/lamps/1", "--as", "lamp-lighter", "--scope", "lamps.read", "--issuer", "pier")
                        .out())
                .contains("● admitted  200")
                .contains("lit");
        assertThat(demo.admit("call", "GET", "/lamps/1").exitCode()).isEqualTo(1);
        done("approval", "withdraw", "lamp-lighter", "lamps.read", "--issuer", "pier");
        Running.Said refused = demo.admit(
                "call", "GET", "/lamps/1", "--as", "lamp-lighter", "--scope", "lamps.read", "--issuer", "pier");
        assertThat(refused.exitCode()).isEqualTo(1);
        assertThat(refused.err()).contains("scope-not-approved").contains("withdrawn");
    }

    @Test
    void everyThingCanBeChangedAndRemoved() throws Exception {
        done("api", "add", "nets", "--upstream", "http://127.0.0.1:1");
        done("api", "change", "nets", "--title", "Fishing nets");
        assertThat(done("api", "show", "nets").out()).contains("Fishing nets");
        done("scope", "add", "nets", "nets.read", "--effect", "reads", "--reach", "everyone", "--for", "clients");
        done("scope", "change", "nets", "nets.read", "--no-listed");
        assertThat(done("scope", "show", "nets", "nets.read").out()).contains("left out");
        done("api", "change", "nets", "--add-default-scope", "nets.read");
        assertThat(done("api", "show", "nets").out()).containsPattern("Default scopes +nets.read");
        Running.Said unknown = demo.admit("api", "change", "nets", "--default-scope", "tides.read");
        assertThat(unknown.exitCode()).isEqualTo(1);
        assertThat(unknown.err()).contains("a scope of this API");
        assertThat(done("scope", "list", "nets").out()).contains("nets.read");
        done("route", "add", "GET,POST", "/nets/{net}", "--api", "nets", "--scope", "nets.read");
        done(
                "route",
                "change",
                "GET,POST",
                "/nets/{net}",
                "--api",
                "nets",
                "--any-scope",
                "--new-methods",
                "GET",
                "--confirm",
                "/nets/{net}");
        assertThat(done("route", "show", "GET", "/nets/{net}").out()).contains("Any token for nets");
        assertThat(done("route", "remove", "GET", "/nets/{net}").out()).contains("live with revision");
        done("client", "add", "mender", "--scope", "nets.read");
        assertThat(done("client", "off", "mender").out())
                .contains("refused from now on")
                .contains("Next: admit client on mender");
        assertThat(done("client", "show", "mender").out()).contains("Missing  It is switched off");
        done("client", "on", "mender");
        done("client", "change", "mender", "--contact", "Junia Hale");
        assertThat(done("client", "show", "mender").out()).contains("Junia Hale");
        String secret = done("secret", "add", "mender", "--label", "second", "--json")
                .json()
                .path("secret")
                .path("id")
                .asString();
        assertThat(done("secret", "list", "mender").out()).contains("second");
        done("secret", "remove", "mender", secret);
        done("approval", "decline", "mender", "nets.read", "--reason", "not this season");
        done("approval", "request", "mender", "nets.read");
        done("approval", "grant", "mender", "nets.read");
        done("approval", "withdraw", "mender", "nets.read");
        done("approval", "drop", "mender", "nets.read");
        Running.Said asked = demo.admit("client", "remove", "mender");
        assertThat(asked.exitCode()).isEqualTo(1);
        assertThat(asked.err()).contains("--confirm mender");
        done("client", "remove", "mender", "--confirm", "mender");
        done("scope", "remove", "nets", "nets.read");
        done("api", "remove", "nets");
        assertThat(demo.admit("api", "show", "nets").exitCode()).isEqualTo(1);
    }

    @Test
    void whatAnUpstreamSaysItselfIsNoRefusal() throws Exception {
        Running.Said said = demo.admit("call", "GET", "/tides/no-such-gauge", "--as", "tide-buoy-07");
        assertThat(said.out()).contains("answered  404").contains("no gauge").doesNotContain("refused");
        assertThat(demo.admit("call", "GET", "/no/such/path").out()).contains("refused  404");
    }

    @Test
    void aTokenIsFetchedAndReadInWords() throws Exception {
        Running.Said fetched = done("token", "fetch", "tide-buoy-07", "--scope", "tides.read");
        assertThat(fetched.out().strip().split("\\.")).hasSize(3);
        assertThat(fetched.err()).contains("Granted: tides.read, for 15 min.");
        Running.Said read = demo.admit(fetched.out(), Map.of(), "token", "read");
        assertThat(read.out())
                .contains("access token (at+jwt)")
                .contains("ES256")
                .contains("the client itself")
                .contains("https://tides.saltmarsh.example")
                .contains("in 14 min")
                .contains("● in its lifetime");
        assertThat(done("token", "read", fetched.out().strip(), "--json")
                        .json()
                        .path("claims")
                        .path("scope")
                        .asString())
                .isEqualTo("tides.read");
        assertThat(demo.admit("token", "read", "not-a-token").exitCode()).isEqualTo(1);
        String secret = demo.ready()
                .path("clients")
                .path("tide-buoy-07")
                .path("client_secret")
                .asString();
        assertThat(demo.admit("", Map.of("ADMIT_CLIENT_SECRET", secret), "token", "fetch", "tide-buoy-07")
                        .exitCode())
                .isZero();
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "issuer list",
                "issuer show harbour",
                "api list",
                "api show tides",
                "scope list",
                "client list",
                "client show old-crane",
                "secret list old-crane",
                "approval list",
                "route list",
                "decision list",
                "server list",
                "key list",
                "role list",
                "audit list",
                "token list",
                "token active",
                "api minting tides",
                "client minting tide-buoy-07",
                "client show berth-desk",
                "service show",
                "service check",
                "token fetch tide-buoy-07",
                "call GET /status"
            })
    void everyOutputIsAlsoJsonAndFitsAHundredColumnsOtherwise(String command) throws Exception {
        assertThat(done((command + " --json").split(" ")).json().isMissingNode())
                .isFalse();
        Running.Said words = done(command.split(" "));
        assertThat(words.out()).doesNotContain("\u001b[");
        if (!command.startsWith("token") && !command.startsWith("call"))
            assertThat(words.out().lines())
                    .allSatisfy(line -> assertThat(line.length()).as(line).isLessThanOrEqualTo(100));
    }

    @Test
    void exitCodesTellWhatKindOfNo() throws Exception {
        assertThat(demo.process("api", "show", "nope").exitCode()).isEqualTo(1);
        assertThat(demo.process("api", "nonsense").exitCode()).isEqualTo(2);
        assertThat(demo.process("api", "list", "--server", "nope").exitCode()).isEqualTo(3);
        Running.Said nobody =
                demo.process("", Map.of("ADMIT_HOME", folder.resolve("nobody").toString()), "api", "list");
        assertThat(nobody.exitCode()).isEqualTo(3);
        assertThat(nobody.err())
                .contains("Not signed in")
                .contains("admit sign-in")
                .doesNotContain("\tat ");
        Path broken = Files.createDirectories(folder.resolve("broken"));
        Files.writeString(broken.resolve("servers.json"), "{nonsense");
        assertThat(demo.process("", Map.of("ADMIT_HOME", broken.toString()), "api", "list")
                        .exitCode())
                .isEqualTo(4);
        Path gone = Files.createDirectories(folder.resolve("gone"));
        Files.writeString(
                gone.resolve("servers.json"),
                Files.readString(demo.home.resolve("servers.json"))
                        .replace(String.valueOf(demo.port), String.valueOf(Running.freePort())));
        Running.Said unreachable = demo.process("", Map.of("ADMIT_HOME", gone.toString()), "api", "list");
        assertThat(unreachable.exitCode()).isEqualTo(3);
        assertThat(unreachable.err()).contains("cannot be reached");
    }

    @Test
    void helpHasAnExampleAndCompletionIsAScript() throws Exception {
        assertThat(done("--help").out()).contains("admit demo").contains("Exit codes");
        for (String command : new String[] {
            "api add", "scope add", "client add", "approval grant", "route add", "token fetch", "call", "decision list"
        }) {
            assertThat(done((command + " --help").split(" ")).out()).as(command).contains("Example: admit " + command);
        }
        assertThat(done("completion").out())
                .contains("#!/usr/bin/env bash")
                .contains("_complete_admit")
                .contains("approval");
        assertThat(done("--version").out()).startsWith("admit ");
    }

    @Test
    void theLauncherSaysWhenNoJavaIsNewEnough() throws Exception {
        Path old = Files.createDirectories(folder.resolve("old-jdk/bin")).getParent();
        Files.writeString(old.resolve("release"), "JAVA_VERSION=\"17.0.15\"\n");
        Files.writeString(old.resolve("bin/java"), "#!/bin/sh\n");
        assertThat(old.resolve("bin/java").toFile().setExecutable(true)).isTrue();
        Path err = folder.resolve("launcher.txt");
        ProcessBuilder builder = new ProcessBuilder(
                        Running.projectRoot().resolve("admit").toString(), "--version")
                .redirectErrorStream(true)
                .redirectOutput(err.toFile());
        builder.environment().put("ADMIT_JAVA_HOME", old.toString());
        assertThat(builder.start().waitFor()).isEqualTo(4);
        assertThat(Files.readString(err)).contains("Java 21 or newer").contains("found here is 17");
    }
}
