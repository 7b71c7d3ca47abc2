package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;
import static org.awaitility.Awaitility.await;

import java.net.InetAddress;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.sql.DriverManager;
import java.util.List;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tools.jackson.databind.JsonNode;

/** Starting, stopping, being killed, and everything that can be wrong with ports and folders. */
class StartTest {
    @TempDir
    Path folder;

    private static Operator operator(Running service, JsonNode credential) throws Exception {
        Wire.Answer token =
                Wire.form(service.server() + "/admit/token", Wire.basic(credential), "grant_type=client_credentials");
        assertThat(token.status()).as(token.body()).isEqualTo(200);
        return new Operator(
                service.server() + "/admin", token.json().path("access_token").asString());
    }

    private JsonNode credential(Path data) throws Exception {
        return Running.JSON.readTree(Files.readString(data.resolve("operator-credential.json")));
    }

    @Test
    void theFirstStartHandsOverOneCredentialOnce() throws Exception {
        Path data = folder.resolve("data");
        try (Running service = Running.service(folder, data)) {
            Path file = data.resolve("operator-credential.json");
            assertThat(PosixFilePermissions.toString(Files.getPosixFilePermissions(file)))
                    .isEqualTo("rw-------");
            await().untilAsserted(() -> assertThat(service.said()).contains("admit sign-in --credential"));
            assertThat(service.said())
                    .doesNotContain(credential(data).path("client_secret").asString());
            Running.Said signedIn = service.admit("sign-in", "--credential", file.toString(), "--name", "mine");
            assertThat(signedIn.exitCode()).as(signedIn.err()).isZero();
            assertThat(Files.exists(file)).as("handed over").isFalse();
            assertThat(service.admit("issuer", "list").out()).contains("admit");
            assertThat(PosixFilePermissions.toString(
                            Files.getPosixFilePermissions(service.home.resolve("servers.json"))))
                    .isEqualTo("rw-------");
        }
        try (Running again = Running.service(folder, data)) {
            assertThat(again.said()).doesNotContain("Operator");
            assertThat(Files.exists(data.resolve("operator-credential.json"))).isFalse();
        }
    }

    @Test
    void anotherPortDoesNotRenameAnIssuer() throws Exception {
        Path data = folder.resolve("data");
        String url;
        try (Running service = Running.service(folder, data)) {
            url = Wire.get(service.server() + "/admit/.well-known/openid-configuration")
                    .json()
                    .path("issuer")
                    .asString();
        }
        try (Running elsewhere = Running.service(folder, data)) {
            assertThat(Wire.get(elsewhere.server() + "/admit/.well-known/openid-configuration")
                            .json()
                            .path("issuer")
                            .asString())
                    .isEqualTo(url);
            assertThat(elsewhere.said()).contains("keep their URLs under " + url.replace("/admit", ""));
        }
        Running refused = Running.ending(
                folder,
                Running.freePort(),
                Running.freePort(),
                "--data",
                data.toString(),
                "--public-url",
                "https://other.example");
        assertThat(refused.process.exitValue()).isEqualTo(2);
        assertThat(refused.said()).contains("would rename them").doesNotContain("\tat ");
    }

    @Test
    void senselessSettingsAreToldInASentence() throws Exception {
        for (List<String> options : List.of(
                List.of("--public-url", "http://login.saltmarsh.example"),
                List.of("--public-url", "https://x.example/?a=b"),
                List.of("--public-url", "https://x.example/login"),
                List.of("--upstream-idle", "0"))) {
            Running refused = Running.ending(
                    folder,
                    Running.freePort(),
                    Running.freePort(),
                    options.getFirst(),
                    options.getLast(),
                    "--data",
                    folder.resolve("none").toString());
            assertThat(refused.process.exitValue()).as(refused.said()).isEqualTo(2);
            assertThat(refused.said()).contains(options.getFirst()).doesNotContain("\tat ");
        }
        assertThat(Files.exists(folder.resolve("none"))).isFalse();
        int port = Running.freePort();
        assertThat(Running.ending(
                                folder,
                                port,
                                port,
                                "--data",
                                folder.resolve("none").toString())
                        .said())
                .contains("--gateway-port");
    }

    @Test
    void aTakenPortIsNamedWithItsOption() throws Exception {
        try (ServerSocket taken = new ServerSocket(0, 1, InetAddress.getByName("127.0.0.1"))) {
            Running server = Running.ending(
                    folder,
                    taken.getLocalPort(),
                    Running.freePort(),
                    "--data",
                    folder.resolve("a").toString());
            assertThat(server.process.exitValue()).isEqualTo(4);
            assertThat(server.said())
                    .contains("Port " + taken.getLocalPort())
                    .contains("--port")
                    .doesNotContain("\tat dev.admit");
            Running gateway = Running.ending(
                    folder,
                    Running.freePort(),
                    taken.getLocalPort(),
                    "--data",
                    folder.resolve("b").toString());
            assertThat(gateway.process.exitValue()).isEqualTo(4);
            assertThat(gateway.said()).contains("Port " + taken.getLocalPort()).contains("--gateway-port");
        }
    }

    @Test
    void dataThatCannotBeUsedIsToldInASentence() throws Exception {
        Files.writeString(folder.resolve("file"), "");
        Running notAFolder = Running.ending(
                folder,
                Running.freePort(),
                Running.freePort(),
                "--data",
                folder.resolve("file/data").toString());
        assertThat(notAFolder.process.exitValue()).isEqualTo(4);
        assertThat(notAFolder.said())
                .contains("cannot be written")
                .contains("--data")
                .doesNotContain("\tat ");

        Path data = folder.resolve("data");
        try (Running service = Running.service(folder, data)) {
            Running second = Running.ending(folder, Running.freePort(), Running.freePort(), "--data", data.toString());
            assertThat(second.said()).contains("in use by another");
        }
        Path key = data.resolve("master.key");
        Files.move(key, folder.resolve("kept.key"));
        Running keyless = Running.ending(folder, Running.freePort(), Running.freePort(), "--data", data.toString());
        assertThat(keyless.process.exitValue()).isEqualTo(4);
        assertThat(keyless.said()).contains("master.key is missing").doesNotContain("\tat ");
        Files.move(folder.resolve("kept.key"), key);

        try (var raw = DriverManager.getConnection("jdbc:sqlite:" + data.resolve("admit.db"));
                var statement = raw.createStatement()) {
            statement.execute(
                    "INSERT INTO flyway_schema_history SELECT 99, '9999', 'future', type, 'V9999__future.sql', "
                            + "checksum, installed_by, installed_on, 1, success "
                            + "FROM flyway_schema_history WHERE version = '0001'");
        }
        Running older = Running.ending(folder, Running.freePort(), Running.freePort(), "--data", data.toString());
        assertThat(older.process.exitValue()).isEqualTo(4);
        assertThat(older.said()).contains("newer version of Admit").doesNotContain("\tat ");
    }

    @Test
    void everythingAcknowledgedIsThereAfterAKill() throws Exception {
        Path data = folder.resolve("data");
        ConcurrentLinkedQueue<String> acknowledged = new ConcurrentLinkedQueue<>();
        JsonNode credential;
        try (Running service = Running.service(folder, data)) {
            credential = credential(data);
            Operator operator = operator(service, credential);
            assertThat(operator.post("/issuers", "{\"name\":\"harbour\"}").status())
                    .isEqualTo(201);
            Thread[] burst = new Thread[8];
            for (int t = 0; t < burst.length; t++) {
                int thread = t;
                burst[t] = Thread.ofVirtual().start(() -> {
                    for (int i = 0; i < 10_000; i++) {
                        String name = "c" + thread + "-" + i;
                        try {
                            if (operator.harbour("POST", "/clients", "{\"name\":\"%s\"}".formatted(name))
                                            .status()
                                    != 201) return;
                        } catch (Exception killed) {
                            return;
                        }
                        acknowledged.add(name);
                    }
                });
            }
            while (acknowledged.size() < 100) Thread.sleep(5);
            service.process.destroyForcibly().waitFor(10, TimeUnit.SECONDS); // SIGKILL, in the middle of the burst
            for (Thread one : burst) one.join();
        }
        try (Running again = Running.service(folder, data)) {
            Operator operator = operator(again, credential);
            for (String name : acknowledged)
                assertThat(operator.get("/issuers/harbour/clients/" + name).status())
                        .as(name)
                        .isEqualTo(200);
            assertThat(operator.post("/issuers/harbour/clients", "{\"name\":\"after\"}")
                            .status())
                    .isEqualTo(201);
        }
    }

    @Test
    void theDemoOnAKeptFolderStartsAgainWithWorkingCredentials() throws Exception {
        Path data = folder.resolve("data");
        int port = Running.freePort();
        int gatewayPort = Running.freePort();
        try (Running first = Running.demo(folder, port, gatewayPort, "--data", data.toString())) {
            assertThat(first.admit("call", "GET", "/tides/north-quay", "--as", "tide-buoy-07")
                            .exitCode())
                    .isZero();
        }
        assertThat(Files.exists(folder.resolve("ready.json")))
                .as("gone with the demo")
                .isFalse();
        assertThat(Files.readString(folder.resolve("home/servers.json"))).doesNotContain("admsec_");
        for (int again = 0; again < 2; again++) {
            try (Running later = Running.demo(folder, port, gatewayPort, "--data", data.toString())) {
                assertThat(later.admit("call", "GET", "/tides/north-quay", "--as", "tide-buoy-07")
                                .exitCode())
                        .isZero();
                assertThat(later.admit("client", "list").out()).contains("old-crane");
            }
        }
    }

    @Test
    void decisionsSurviveACleanStop() throws Exception {
        Path data = folder.resolve("data");
        JsonNode credential;
        String id;
        try (Running service = Running.service(folder, data)) {
            credential = credential(data);
            id = Wire.get(service.gateway() + "/nowhere").header("Admit-Decision");
        }
        try (Running again = Running.service(folder, data)) {
            assertThat(operator(again, credential)
                            .get("/decisions/" + id)
                            .json()
                            .path("reason")
                            .asString())
                    .isEqualTo("no-route");
        }
    }
}
