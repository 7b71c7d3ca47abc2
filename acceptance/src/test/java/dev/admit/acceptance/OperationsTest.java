package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.security.cert.X509Certificate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.atomic.AtomicInteger;
import javax.net.ssl.SSLContext;
import javax.net.ssl.SSLSocket;
import javax.net.ssl.TrustManager;
import javax.net.ssl.X509TrustManager;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.JsonNode;

/** Living with the service: backup and restore, whole records, certificates, proxies, configuration. */
class OperationsTest {
    @TempDir
    Path folder;

    private static int restore(Path data, Path from, String... more) throws Exception {
        List<String> command = new ArrayList<>(Running.service("dev.admit.server.Restore"));
        command.addAll(List.of("--data", data.toString(), "--from", from.toString()));
        command.addAll(List.of(more));
        Process process = new ProcessBuilder(command)
                .redirectErrorStream(true)
                .redirectOutput(data.resolveSibling("restore.txt").toFile())
                .start();
        return process.waitFor();
    }

    private String restoreSaid() throws Exception {
        return Files.readString(folder.resolve("restore.txt"));
    }

    @Test
    void aBackupTakenUnderLoadRestoresToAConsistentStateAndEndsTokens() throws Exception {
        Path data = folder.resolve("data");
        Path backup = folder.resolve("backup.db");
        String token;
        int port;
        int gatewayPort;
        AtomicInteger registered = new AtomicInteger();
        int before;
        try (Running first = Running.demo(folder, "--data", data.toString())) {
            port = first.port;
            gatewayPort = first.gatewayPort;
            Operator operator = Operator.of(first);
            AtomicBoolean stop = new AtomicBoolean();
            List<Thread> load = new ArrayList<>();
            for (int i = 0; i < 3; i++) {
                load.add(Thread.ofVirtual().start(() -> {
                    while (!stop.get()) {
                        try {
                            int n = registered.get();
                            assertThat(operator.harbour(
                                                    "POST",
                                                    "/clients",
                                                    "{\"name\":\"load-%d-%s\",\"scopes\":[\"tides.read\"]}"
                                                            .formatted(
                                                                    n,
                                                                    Thread.currentThread()
                                                                            .threadId()))
                                            .status())
                                    .isEqualTo(201);
                            registered.incrementAndGet();
                        } catch (Exception fault) {
                            throw new AssertionError(fault);
                        }
                    }
                }));
            }
            while (registered.get() < 10) Thread.sleep(5);
            token = Wire.token(first, "tide-buoy-07", "&scope=tides.read");
            before = registered.get();
            Running.Said said = first.admit("service", "backup", backup.toString());
            assertThat(said.exitCode()).as(said.err()).isZero();
            assertThat(first.admit("service", "backup", backup.toString()).err())
                    .as("nothing is written over")
                    .contains("is there already");
            stop.set(true);
            for (Thread thread : load) thread.join();
            assertThat(operator.get("/service/check").json().path("whole").asBoolean(false))
                    .isTrue();
            assertThat(operator.harbour("POST", "/clients", "{\"name\":\"after-the-backup\"}")
                            .status())
                    .isEqualTo(201);
            assertThat(restore(data, backup)).as("not while it is in use").isEqualTo(4);
            assertThat(restoreSaid()).contains("in use by another Admit");
            assertThat(Wire.call("GET", first.gateway() + "/tides/north-quay", token)
                            .status())
                    .isEqualTo(200);
        }
        assertThat(java.nio.file.attribute.PosixFilePermissions.toString(Files.getPosixFilePermissions(backup)))
                .isEqualTo("rw-------");
        Files.write(folder.resolve("cut.db"), java.util.Arrays.copyOf(Files.readAllBytes(backup), 20_000));
        assertThat(restore(data, folder.resolve("cut.db"))).isEqualTo(4);
        assertThat(restoreSaid()).contains("is damaged, and nothing was changed");
        Path elsewhere = Files.createDirectory(folder.resolve("elsewhere"));
        assertThat(restore(elsewhere, backup))
                .as("without its master key nobody could use it")
                .isEqualTo(4);
        assertThat(restoreSaid()).contains("There is no master key");
        Files.writeString(
                elsewhere.resolve("master.key"), java.util.Base64.getEncoder().encodeToString(new byte[32]) + "\n");
        Files.setPosixFilePermissions(
                elsewhere.resolve("master.key"), java.nio.file.attribute.PosixFilePermissions.fromString("rw-------"));
        assertThat(restore(elsewhere, backup)).isEqualTo(4);
        assertThat(restoreSaid()).contains("was made with another master key");
        assertThat(elsewhere.resolve("admit.db")).doesNotExist();
        assertThat(restore(data, backup)).as(restoreSaid()).isZero();
        assertThat(restoreSaid()).contains("The backup is in place; what was there is now");
        try (Running second = Running.demo(folder, port, gatewayPort, "--data", data.toString())) {
            Operator operator = Operator.of(second);
            assertThat(operator.harbour("GET", "/clients/after-the-backup", null)
                            .status())
                    .isEqualTo(404);
            int clients = 0;
            String after = "";
            do {
                JsonNode page = operator.harbour("GET", "/clients?limit=200&search=load-" + after, null)
                        .json();
                for (JsonNode client : page.path("items")) {
                    assertThat(client.path("secrets").size())
                            .as("each client whole")
                            .isEqualTo(1);
                    assertThat(client.path("scopes").size()).isEqualTo(1);
                    clients++;
                }
                after = page.path("next").isString()
                        ? "&after=" + page.path("next").asString()
                        : null;
            } while (after != null);
            assertThat(clients).isBetween(before, registered.get());
            assertThat(Wire.call("GET", second.gateway() + "/tides/north-quay", token)
                            .json()
                            .path("reason")
                            .asString())
                    .as("what was withdrawn since is not known")
                    .isEqualTo("revoked");
            assertThat(Wire.call(
                                    "GET",
                                    second.gateway() + "/tides/north-quay",
                                    Wire.token(second, "tide-buoy-07", "&scope=tides.read"))
                            .status())
                    .isEqualTo(200);
            assertThat(operator.get("/service/check").json().path("whole").asBoolean(false))
                    .isTrue();
        }
    }

    @Test
    void aFullDiskIsToldAndTheServiceGoesOnOnceThereIsRoom() throws Exception {
        Path disk = Files.createDirectory(folder.resolve("disk"));
        assumeTrue(
                run("mount", "-t", "tmpfs", "-o", "size=6m", "tmpfs", disk.toString()) == 0,
                "a small file system can be mounted here; the store's own test needs none");
        try (Running demo = Running.demo(folder, "--data", disk.resolve("data").toString())) {
            Operator operator = Operator.of(demo);
            String token = Wire.token(demo, "tide-buoy-07", "&scope=tides.read");
            List<String> acknowledged = new ArrayList<>();
            Wire.Answer refused = null;
            Files.write(
                    disk.resolve("filler"),
                    new byte[(int) Math.max(0, Files.getFileStore(disk).getUsableSpace() - 300_000)]);
            for (int i = 0; i < 2_000 && refused == null; i++) {
                Wire.Answer answer = operator.harbour("POST", "/clients", "{\"name\":\"filling-%d\"}".formatted(i));
                if (answer.status() == 201) acknowledged.add("filling-" + i);
                else refused = answer;
            }
            assertThat(refused).isNotNull();
            assertThat(refused.status()).isEqualTo(503);
            assertThat(refused.json().path("detail").asString()).contains("The disk is full; nothing was changed.");
            assertThat(Wire.call("GET", demo.gateway() + "/tides/north-quay", token)
                            .status())
                    .as("checking reads memory")
                    .isEqualTo(200);
            Files.delete(disk.resolve("filler"));
            assertThat(operator.harbour("POST", "/clients", "{\"name\":\"after-room-was-made\"}")
                            .status())
                    .isEqualTo(201);
            for (String name : acknowledged)
                assertThat(operator.harbour("GET", "/clients/" + name, null)
                                .json()
                                .path("secrets")
                                .size())
                        .as(name)
                        .isEqualTo(1);
            assertThat(operator.harbour("GET", "/clients/filling-" + acknowledged.size(), null)
                            .status())
                    .as("nothing half-made")
                    .isEqualTo(404);
            assertThat(operator.get("/service/check").json().path("whole").asBoolean(false))
                    .isTrue();
        } finally {
            run("umount", "-l", disk.toString());
        }
    }

    private static int run(String... command) throws Exception {
        Process process = new ProcessBuilder(command).redirectErrorStream(true).start();
        process.getInputStream().readAllBytes();
        return process.waitFor();
    }

    @Test
    void anAlteredRecordIsFoundByTheCheck() throws Exception {
        Path data = folder.resolve("data");
        try (Running demo = Running.demo(folder, "--data", data.toString())) {
            assertThat(demo.admit("service", "check").out()).contains("The records are whole.");
            try (var connection = java.sql.DriverManager.getConnection("jdbc:sqlite:" + data.resolve("admit.db"));
                    var statement = connection.createStatement()) {
                statement.execute("UPDATE audit SET who = 'Nobody' WHERE what = 'client.added'");
            }
            Running.Said said = demo.admit("service", "check");
            assertThat(said.exitCode()).isEqualTo(1);
            assertThat(said.out()).contains("is not what was written");
        }
    }

    private void certificate(String name, String subject) throws Exception {
        Process process = new ProcessBuilder(
                        "openssl",
                        "req",
                        "-x509",
                        "-newkey",
                        "ec",
                        "-pkeyopt",
                        "ec_paramgen_curve:prime256v1",
                        "-nodes",
                        "-days",
                        "2",
                        "-subj",
                        "/CN=" + subject,
                        "-addext",
                        "subjectAltName=IP:127.0.0.1",
                        "-keyout",
                        folder.resolve(name + ".key").toString(),
                        "-out",
                        folder.resolve(name + ".pem").toString())
                .redirectErrorStream(true)
                .start();
        process.getInputStream().readAllBytes();
        assertThat(process.waitFor()).isZero();
    }

    private static String subject(int port) throws Exception {
        SSLContext context = SSLContext.getInstance("TLS");
        context.init(
                null,
                new TrustManager[] {
                    new X509TrustManager() {
                        @Override
                        public void checkClientTrusted(X509Certificate[] chain, String type) {}

                        @Override
                        public void checkServerTrusted(X509Certificate[] chain, String type) {}

                        @Override
                        public X509Certificate[] getAcceptedIssuers() {
                            return new X509Certificate[0];
                        }
                    }
                },
                null);
        try (SSLSocket socket = (SSLSocket) context.getSocketFactory().createSocket("127.0.0.1", port)) {
            socket.startHandshake();
            return ((X509Certificate) socket.getSession().getPeerCertificates()[0])
                    .getSubjectX500Principal()
                    .getName();
        }
    }

    @Test
    void bothPortsSpeakTlsAndTakeANewCertificateWithoutARestart() throws Exception {
        certificate("one", "first.saltmarsh.example");
        certificate("two", "second.saltmarsh.example");
        Files.copy(folder.resolve("one.pem"), folder.resolve("tls.pem"));
        Files.copy(folder.resolve("one.key"), folder.resolve("tls.key"));
        Path data = folder.resolve("data");
        try (Running service = Running.service(
                folder,
                data,
                "--tls-certificate",
                folder.resolve("tls.pem").toString(),
                "--tls-key",
                folder.resolve("tls.key").toString())) {
            assertThat(service.said())
                    .contains("Server     https://127.0.0.1:" + service.port)
                    .contains("Gateway    https://localhost:" + service.gatewayPort);
            assertThat(subject(service.port)).contains("first");
            assertThat(subject(service.gatewayPort)).contains("first");
            Running.Said signedIn = service.admit(
                    "",
                    Map.of("ADMIT_CA", folder.resolve("one.pem").toString()),
                    "sign-in",
                    "--credential",
                    data.resolve("operator-credential.json").toString());
            assertThat(signedIn.exitCode()).as(signedIn.err()).isZero();
            assertThat(service.admit("", Map.of(), "issuer", "list").exitCode())
                    .as("a certificate that is not trusted")
                    .isEqualTo(3);
            Files.writeString(folder.resolve("tls.pem"), "nonsense");
            Thread.sleep(2500);
            assertThat(subject(service.port))
                    .as("what cannot be used is not used")
                    .contains("first");
            Files.copy(folder.resolve("two.key"), folder.resolve("tls.key"), StandardCopyOption.REPLACE_EXISTING);
            Files.copy(folder.resolve("two.pem"), folder.resolve("tls.pem"), StandardCopyOption.REPLACE_EXISTING);
            for (int i = 0; i < 50 && !subject(service.port).contains("second"); i++) Thread.sleep(100);
            assertThat(subject(service.port)).contains("second");
            assertThat(subject(service.gatewayPort)).contains("second");
            assertThat(Wire.raw(service.port, "GET /health HTTP/1.1\r\nHost: x\r\nConnection: close\r\n\r\n"))
                    .as("no plain http beside it")
                    .doesNotContain("200 OK");
        }
        try (Running failed = Running.ending(
                folder,
                Running.freePort(),
                Running.freePort(),
                "--data",
                folder.resolve("other").toString(),
                "--tls-certificate",
                folder.resolve("tls.pem").toString())) {
            assertThat(failed.said()).contains("--tls-certificate and --tls-key go together");
        }
    }

    private static String from(Running demo, String forwarded) throws Exception {
        HttpClient client = HttpClient.newHttpClient();
        HttpRequest.Builder request = HttpRequest.newBuilder(URI.create(demo.gateway() + "/tides/north-quay"));
        if (forwarded != null) request.header("X-Forwarded-For", forwarded);
        HttpResponse<String> answer = client.send(request.build(), HttpResponse.BodyHandlers.ofString());
        return Operator.of(demo)
                .get("/decisions/"
                        + answer.headers().firstValue("Admit-Decision").orElseThrow())
                .json()
                .path("from")
                .asString();
    }

    @Test
    void onlyATrustedProxySaysWhoCalls() throws Exception {
        try (Running demo = Running.demo(folder)) {
            Thread.sleep(300);
            assertThat(from(demo, "203.0.113.7")).as("nobody is trusted").isEqualTo("127.0.0.1");
        }
        try (Running demo = Running.demo(
                Files.createDirectory(folder.resolve("trusting")), "--trusted-proxy", "127.0.0.1,10.0.0.0/8")) {
            Thread.sleep(300);
            assertThat(from(demo, "203.0.113.7")).isEqualTo("203.0.113.7");
            assertThat(from(demo, "1.2.3.4, 203.0.113.7, 10.1.2.3"))
                    .as("what stands before the last stranger is a stranger's word")
                    .isEqualTo("203.0.113.7");
            assertThat(from(demo, "localhost, 203.0.113.9")).isEqualTo("203.0.113.9");
            assertThat(from(demo, "evil.example")).as("no name is looked up").isEqualTo("127.0.0.1");
            assertThat(from(demo, null)).isEqualTo("127.0.0.1");
            String audited = Wire.send(
                            "POST",
                            demo.server() + "/admin/issuers/harbour/clients",
                            Map.of(
                                    "Authorization",
                                    "Bearer "
                                            + Wire.form(
                                                            demo.server() + "/admit/token",
                                                            Wire.basic(
                                                                    demo.ready().path("operator")),
                                                            "grant_type=client_credentials")
                                                    .json()
                                                    .path("access_token")
                                                    .asString(),
                                    "Content-Type",
                                    "application/json",
                                    "X-Forwarded-For",
                                    "203.0.113.8"),
                            "{\"name\":\"proxied\"}")
                    .body();
            assertThat(audited).contains("proxied");
            assertThat(Operator.of(demo)
                            .harbour("GET", "/audit?on=proxied", null)
                            .json()
                            .path("items")
                            .get(0)
                            .path("from")
                            .asString())
                    .isEqualTo("203.0.113.8");
        }
    }

    @Test
    void optionsComeBeforeTheEnvironmentAndThatBeforeTheFile() throws Exception {
        Path config = Files.writeString(
                folder.resolve("admit.conf"), "# the harbour's\nlargest-body = 1000\nkeep-audit = 30d\n");
        try (Running failed = Running.ending(
                folder,
                Running.freePort(),
                Running.freePort(),
                "--config",
                Files.writeString(folder.resolve("bad.conf"), "largest-body = 1\ncolour = red\n")
                        .toString())) {
            assertThat(failed.said())
                    .contains("Line 2 of")
                    .contains("'colour = red'")
                    .contains("largest-body");
        }
        try (Running failed = Running.ending(
                folder,
                Running.freePort(),
                Running.freePort(),
                "--data",
                folder.resolve("x").toString(),
                "--config",
                config.toString(),
                "--keep-audit",
                "1h")) {
            assertThat(failed.said()).as("the option counts").contains("--keep-audit are at least 1 day");
        }
        try (Running demo = Running.demo(folder, "--config", config.toString())) {
            String token = Wire.token(demo, "tide-buoy-07", "&scope=tides.publish");
            assertThat(Wire.send(
                                    "POST",
                                    demo.gateway() + "/tides/readings",
                                    Map.of("Authorization", "Bearer " + token),
                                    "x".repeat(1001))
                            .status())
                    .as("the file counts")
                    .isEqualTo(413);
        }
        try (Running demo = Running.demo(
                Files.createDirectory(folder.resolve("more")),
                "--config",
                config.toString(),
                "--largest-body",
                "5000")) {
            String token = Wire.token(demo, "tide-buoy-07", "&scope=tides.publish");
            assertThat(Wire.send(
                                    "POST",
                                    demo.gateway() + "/tides/readings",
                                    Map.of("Authorization", "Bearer " + token),
                                    "x".repeat(1001))
                            .status())
                    .isNotEqualTo(413);
        }
    }

    @ParameterizedTest
    @CsvSource({
        "--trusted-proxy, not-an-address, --trusted-proxy is",
        "--tls-key, nowhere.key, go together",
        "--keep-decisions, soon, at least 1 day",
        "--config, nowhere.conf, cannot be read"
    })
    void aSenselessSettingStopsTheStartWithASentence(String option, String value, String sentence) throws Exception {
        try (Running failed = Running.ending(
                folder,
                Running.freePort(),
                Running.freePort(),
                "--data",
                folder.resolve("data").toString(),
                option,
                value)) {
            assertThat(failed.process.exitValue()).isEqualTo(2);
            assertThat(failed.said()).contains(sentence).doesNotContain("Exception");
        }
    }
}
