package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.sun.net.httpserver.HttpServer;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.Executors;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.api.parallel.ResourceLock;
import tools.jackson.databind.JsonNode;

/**
 * What the one who runs the service sees of it: numbers, lines, and a stop that cuts nobody off; and what clients can
 * read of a resource.
 */
@ResourceLock(Running.DEMO)
class ObservationTest {
    @TempDir
    Path folder;

    private static double number(String metrics, String beginning) {
        return metrics.lines()
                .filter(line -> line.startsWith(beginning))
                .map(line -> line.substring(line.lastIndexOf(' ') + 1))
                .mapToDouble(Double::parseDouble)
                .findFirst()
                .orElse(0);
    }

    @Test
    void decisionsAreCountedAndTimedForPrometheus() throws Exception {
        Running demo = Running.demo();
        Operator operator = Operator.of(demo);
        String refused = "admit_decisions_total{endpoint=\"gateway\",issuer=\"harbour\","
                + "reason=\"no-token\",verdict=\"refused\"}";
        double before = number(operator.get("/metrics").body(), refused);
        for (int i = 0; i < 3; i++) Wire.get(demo.gateway() + "/tides/north-quay");
        assertThat(Wire.call(
                                "GET",
                                demo.gateway() + "/tides/north-quay",
                                Wire.token(demo, "tide-buoy-07", "&scope=tides.read"))
                        .status())
                .isEqualTo(200);

        Wire.Answer answer = operator.get("/metrics");
        assertThat(answer.header("Content-Type")).startsWith("text/plain");
        assertThat(number(answer.body(), refused)).isEqualTo(before + 3);
        assertThat(answer.body())
                .contains("admit_requests_seconds_bucket{endpoint=\"gateway\"")
                .contains("admit_deciding_seconds_count{endpoint=\"token\"}")
                .contains("admit_verified_tokens ")
                .contains("jvm_memory_used_bytes");
        assertThat(answer.body())
                .as("no label has many values")
                .doesNotContain("cl_")
                .doesNotContain("north-quay");
        assertThat(Wire.get(demo.ready().path("admin_api").asString() + "/metrics")
                        .status())
                .as("not for everybody")
                .isEqualTo(401);
    }

    @Test
    void theAccessLogHasALineForEachRequestAndNoSecret() throws Exception {
        Path log = folder.resolve("access.log");
        try (Running demo = Running.demo(folder, "--access-log", log.toString(), "--trusted-proxy", "127.0.0.1")) {
            String token = Wire.token(demo, "tide-buoy-07", "&scope=tides.read");
            Wire.Answer yes = Wire.call("GET", demo.gateway() + "/tides/north-quay?hour=3&secret=kelp", token);
            Wire.Answer no = Wire.call("GET", demo.gateway() + "/berths/n1", token);
            JsonNode admitted = line(log, yes.header("Admit-Decision"));
            assertThat(admitted.path("status").asInt()).isEqualTo(200);
            assertThat(admitted.path("path").asString()).isEqualTo("/tides/north-quay");
            assertThat(admitted.path("route").asString()).isEqualTo("GET /tides/**");
            assertThat(admitted.path("ms").asDouble()).isPositive();
            JsonNode refused = line(log, no.header("Admit-Decision"));
            assertThat(refused.path("reason").asString()).isEqualTo("wrong-audience");
            assertThat(Files.readString(log))
                    .doesNotContain("kelp")
                    .doesNotContain(token)
                    .doesNotContain(demo.ready()
                            .path("clients")
                            .path("tide-buoy-07")
                            .path("client_secret")
                            .asString());

            Wire.Answer behindProxy = Wire.send(
                    "GET",
                    demo.gateway() + "/office/x",
                    Map.of("Accept", "text/html", "X-Forwarded-Proto", "https"),
                    null);
            assertThat(Operator.of(demo).decision(behindProxy).path("done").toString())
                    .as("a proxy that is trusted says how the browser received")
                    .contains("https://localhost:" + demo.gatewayPort + "/_admit/signed-in is no redirect URI");

            Files.move(log, folder.resolve("access.log.1"));
            Wire.Answer after = Wire.get(demo.gateway() + "/nowhere");
            assertThat(line(log, after.header("Admit-Decision")).path("reason").asString())
                    .isEqualTo("no-route");
        }
    }

    private static JsonNode line(Path log, String decision) throws Exception {
        long end = System.nanoTime() + 5_000_000_000L;
        while (System.nanoTime() < end) {
            if (Files.exists(log))
                for (String line : Files.readAllLines(log)) {
                    JsonNode json = Running.JSON.readTree(line);
                    if (json.path("decision").asString().equals(decision)) return json;
                }
            Thread.sleep(50);
        }
        throw new AssertionError("no line of " + decision);
    }

    @Test
    void whoIsAskedToStopSaysSoFirstAndLetsRequestsEnd() throws Exception {
        CountDownLatch arrived = new CountDownLatch(1);
        CountDownLatch go = new CountDownLatch(1);
        HttpServer slow = HttpServer.create(new InetSocketAddress("127.0.0.1", 0), 0);
        slow.setExecutor(Executors.newVirtualThreadPerTaskExecutor());
        slow.createContext("/", exchange -> {
            try (exchange) {
                arrived.countDown();
                go.await();
                byte[] body = "at last".getBytes();
                exchange.sendResponseHeaders(200, body.length);
                exchange.getResponseBody().write(body);
            } catch (InterruptedException stopping) {
                Thread.currentThread().interrupt();
            }
        });
        slow.start();
        Running demo = Running.demo(folder, "--drain", "3s");
        try {
            Operator operator = Operator.of(demo);
            assertThat(operator.harbour(
                                    "POST",
                                    "/routes",
                                    "{\"path\":\"/slow\",\"open\":true,\"upstream\":\"http://127.0.0.1:%d\"}"
                                            .formatted(slow.getAddress().getPort()))
                            .status())
                    .isEqualTo(201);
            CompletableFuture<Wire.Answer> underWay = CompletableFuture.supplyAsync(() -> {
                try {
                    return Wire.get(demo.gateway() + "/slow");
                } catch (Exception cut) {
                    throw new IllegalStateException(cut);
                }
            });
            assertThat(arrived.await(10, TimeUnit.SECONDS)).isTrue();
            demo.process.destroy();
            long end = System.nanoTime() + 3_000_000_000L;
            Wire.Answer ready = Wire.get(demo.server() + "/health/readiness");
            while (ready.status() == 200 && System.nanoTime() < end) {
                Thread.sleep(50);
                ready = Wire.get(demo.server() + "/health/readiness");
            }
            assertThat(ready.status()).as("no more should come").isEqualTo(503);
            assertThat(Wire.get(demo.gateway() + "/status").status())
                    .as("but what comes is still answered")
                    .isEqualTo(200);
            Thread.sleep(3_500); // the draining is over; what is under way is not
            go.countDown();
            assertThat(underWay.get(10, TimeUnit.SECONDS).body()).isEqualTo("at last");
            assertThat(demo.process.waitFor(15, TimeUnit.SECONDS)).isTrue();
        } finally {
            go.countDown();
            demo.close();
            slow.stop(0);
        }
    }

    @Test
    void aResourceThatIsCalledAtItsAudienceIsDescribedThere() throws Exception {
        Running demo = Running.demo();
        Operator operator = Operator.of(demo);
        String resource = demo.gateway() + "/charts";
        Wire.Answer made = operator.harbour(
                "POST",
                "/apis",
                "{\"name\":\"charts\",\"title\":\"Sea charts\",\"audience\":\"%s\",\"outside_domains\":true}"
                        .formatted(resource));
        assertThat(made.status()).as(made.body()).isEqualTo(201);
        operator.harbour(
                "POST",
                "/apis/charts/scopes",
                "{\"name\":\"charts.read\",\"effect\":\"reads\",\"reach\":\"everyone\",\"for\":\"both\"}");
        assertThat(operator.harbour(
                                "POST",
                                "/routes",
                                "{\"path\":\"/charts/**\",\"api\":\"charts\",\"scopes\":[\"charts.read\"],\"fixed_re"
                                        + "sponse\""
                                        + ":{\"body\":\"a chart\"}}")
                        .status())
                .isEqualTo(201);

        Wire.Answer no = Wire.get(demo.gateway() + "/charts/sound");
        assertThat(no.header("WWW-Authenticate"))
                .isEqualTo("Bearer realm=\"charts\", scope=\"charts.read\", resource_metadata=\"" + demo.gateway()
                        + "/.well-known/oauth-protected-resource/charts\"");
        JsonNode metadata = Wire.get(demo.gateway() + "/.well-known/oauth-protected-resource/charts")
                .json();
        assertThat(metadata.path("resource").asString()).isEqualTo(resource);
        assertThat(metadata.path("authorization_servers").get(0).asString())
                .isEqualTo(demo.ready().path("issuers").path("harbour").asString());
        assertThat(metadata.path("scopes_supported").toString()).isEqualTo("[\"charts.read\"]");

        assertThat(Wire.get(demo.gateway() + "/.well-known/oauth-protected-resource")
                        .status())
                .isEqualTo(404);
        assertThat(Wire.get(demo.gateway() + "/tides/x").header("WWW-Authenticate"))
                .as("its audience is another address")
                .isEqualTo("Bearer realm=\"tides\"");
        String elsewhere = Wire.raw(
                demo.gatewayPort, "GET /charts/sound HTTP/1.1\r\nHost: evil.example\r\nConnection: close\r\n\r\n");
        assertThat(elsewhere).doesNotContain("resource_metadata").doesNotContain("evil.example");
    }

    @Test
    void aConnectionThatSaysNothingIsNotHeldForever() throws Exception {
        // Not to its end, which takes a minute; that a thousand of them stand in nobody's way.
        Running demo = Running.demo();
        List<Socket> idle = new java.util.ArrayList<>();
        try {
            for (int i = 0; i < 1_000; i++) idle.add(new Socket("127.0.0.1", demo.gatewayPort));
            for (Socket one : idle.subList(0, 200)) one.getOutputStream().write("GET /tides/x HTT".getBytes());
            assertThat(Wire.send("GET", demo.gateway() + "/status", Map.of(), null)
                            .status())
                    .isEqualTo(200);
            assertThat(Wire.call(
                                    "GET",
                                    demo.gateway() + "/tides/north-quay",
                                    Wire.token(demo, "tide-buoy-07", "&scope=tides.read"))
                            .status())
                    .isEqualTo(200);
        } finally {
            for (Socket one : idle) one.close();
        }
    }
}
