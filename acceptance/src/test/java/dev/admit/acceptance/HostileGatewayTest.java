package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.sun.net.httpserver.HttpServer;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.concurrent.Executors;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.zip.GZIPOutputStream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.parallel.ResourceLock;

/** What comes with bad intent: none of it reaches an upstream unchecked, stops the service, or makes it grow. */
@ResourceLock(Running.DEMO)
class HostileGatewayTest {
    private static final long SEED = 20261123L;
    private static Running demo;
    private static HttpServer backend;
    private static final AtomicInteger REACHED = new AtomicInteger();

    @BeforeAll
    static void start() throws Exception {
        demo = Running.demo();
        Operator operator = Operator.of(demo);
        backend = HttpServer.create(new InetSocketAddress("127.0.0.1", 0), 0);
        backend.setExecutor(Executors.newVirtualThreadPerTaskExecutor());
        backend.createContext("/", exchange -> {
            try (exchange) {
                REACHED.incrementAndGet();
                exchange.getRequestBody().readAllBytes();
                exchange.sendResponseHeaders(200, -1);
            }
        });
        backend.start();
        Wire.Answer route = operator.harbour(
                "POST",
                "/routes",
                ("{\"path\":\"/fort/**\","
                                + "\"api\":\"tides\",\"scopes\":[\"tides.read\"],\"upstream\":\"http://127.0.0.1:%d\"}")
                        .formatted(backend.getAddress().getPort()));
        assertThat(route.status()).as(route.body()).isEqualTo(201);
    }

    @AfterAll
    static void stop() {
        backend.stop(0);
    }

    private static void stillWorks() throws Exception {
        int before = REACHED.get();
        assertThat(Wire.call("GET", demo.gateway() + "/fort/x", Wire.token(demo, "tide-buoy-07", "&scope=tides.read"))
                        .status())
                .isEqualTo(200);
        assertThat(REACHED.get()).isGreaterThan(before);
    }

    /**
     * What a connection's parser remembers of one request must not stand in for what the next one says, be it another
     * in case alone.
     */
    @Test
    void valuesThatDifferInCaseAloneAreTwoValues() throws Exception {
        String token = Wire.token(demo, "tide-buoy-07", "&scope=tides.read");
        int at = token.lastIndexOf('.') + 1;
        while (!Character.isLetter(token.charAt(at))) at++;
        char c = token.charAt(at);
        String forged = token.substring(0, at)
                + (Character.isUpperCase(c) ? Character.toLowerCase(c) : Character.toUpperCase(c))
                + token.substring(at + 1);
        String both = Wire.raw(
                demo.gatewayPort,
                ("GET /received HTTP/1.1\r\nHost: x\r\nX-Tag: aBc\r\nAuthorization: Bearer "
                                + "%s\r\n\r\nGET /received HTTP/1.1\r\nHost: x\r\nX-Tag: abc\r\nAuthorization: Bearer "
                                + "%s\r\n\r\nGET /received HTTP/1.1\r\nHost: x\r\nAuthorization: Bearer "
                                + "%s\r\nConnection: close\r\n\r\n")
                        .formatted(token, token, forged));
        assertThat(both).containsIgnoringCase("\"x-tag\":\"aBc\"");
        assertThat(both.toLowerCase(java.util.Locale.ROOT).split("x-tag", -1)).hasSize(3);
        assertThat(both).contains("\"abc\"").contains("HTTP/1.1 401").contains("bad-signature");
    }

    private static String part(String json) {
        return Base64.getUrlEncoder().withoutPadding().encodeToString(json.getBytes(StandardCharsets.UTF_8));
    }

    private static String reasonFor(String token) throws Exception {
        Wire.Answer answer = Wire.call("GET", demo.gateway() + "/fort/x", token);
        assertThat(answer.status()).isBetween(400, 431);
        return answer.json().path("reason").asString();
    }

    @Test
    void tokensThatAreLargeDeepOrCompressedEndAtTheFormOrTheSignature() throws Exception {
        int before = REACHED.get();
        String issuer = demo.ready().path("issuers").path("harbour").asString();
        String kid = Wire.get(issuer + "/jwks")
                .json()
                .path("keys")
                .get(0)
                .path("kid")
                .asString();
        String header = part("{\"alg\":\"ES256\",\"typ\":\"at+jwt\",\"kid\":\"%s\"}".formatted(kid));
        String scopes = String.join(
                " ",
                java.util.stream.IntStream.range(0, 10_000)
                        .mapToObj(i -> "s" + i)
                        .toList());
        assertThat(reasonFor(header + "."
                        + part("{\"iss\":\"%s\",\"scope\":\"%s\"}".formatted(issuer, scopes))
                                .substring(0, 7_000) + ".AA"))
                .isEqualTo("malformed-token");
        assertThat(reasonFor("A".repeat(15_000))).isIn("malformed-token", "headers-too-large");
        String nested = part("{\"alg\":\"none\"}");
        for (int i = 0; i < 10; i++) nested = part("{\"alg\":\"ES256\",\"cty\":\"JWT\"}") + "." + part(nested) + ".AA";
        assertThat(reasonFor(nested.substring(0, Math.min(nested.length(), 12_000))))
                .isEqualTo("malformed-token");
        String deep = "[".repeat(2_000) + "]".repeat(2_000);
        assertThat(reasonFor(header + "."
                        + part("{\"iss\":\"%s\",\"x\":%s}".formatted(issuer, deep))
                                .substring(0, 5_300) + ".AA"))
                .isEqualTo("malformed-token");
        assertThat(reasonFor(header + "."
                        + part("{\"iss\":\"%s\",\"x\":%s}".formatted(issuer, "[".repeat(1_000) + "]".repeat(1_000)))
                        + ".AA"))
                .isIn("malformed-token", "bad-signature", "wrong-algorithm");
        String zipped = part("{\"alg\":\"dir\",\"enc\":\"A128GCM\",\"zip\":\"DEF\",\"typ\":\"at+jwt\"}") + "..AAAA."
                + part("x".repeat(3_000)) + ".AA";
        assertThat(reasonFor(zipped)).isEqualTo("malformed-token");
        assertThat(REACHED.get()).isEqualTo(before);
        stillWorks();
    }

    @Test
    void aHeaderOf64KibibytesAndTenThousandHeadersAreRefused() throws Exception {
        int before = REACHED.get();
        assertThat(Wire.raw(
                        demo.gatewayPort,
                        "GET /fort/x HTTP/1.1\r\nHost: x\r\nX-Long: " + "x".repeat(64 * 1024) + "\r\n\r\n"))
                .startsWith("HTTP/1.1 431");
        StringBuilder many = new StringBuilder("GET /fort/x HTTP/1.1\r\nHost: x\r\n");
        for (int i = 0; i < 10_000; i++) many.append("X-").append(i).append(": y\r\n");
        assertThat(first(many + "\r\n")).startsWith("HTTP/1.1 431");
        assertThat(REACHED.get()).isEqualTo(before);
        stillWorks();
    }

    /** What comes back before the other side hangs up on a request that it did not read to its end. */
    private static String first(String request) throws IOException {
        try (Socket socket = new Socket("127.0.0.1", demo.gatewayPort)) {
            socket.setSoTimeout(5_000);
            try {
                socket.getOutputStream().write(request.getBytes(StandardCharsets.ISO_8859_1));
            } catch (IOException hungUp) {
                // what it said before is still to be read
            }
            byte[] some = new byte[200];
            int n = socket.getInputStream().read(some);
            return n < 0 ? "" : new String(some, 0, n, StandardCharsets.ISO_8859_1);
        }
    }

    @Test
    void requestsThatCanBeReadInTwoWaysAreRefusedAndNoSecondOneIsSmuggled() throws Exception {
        String token = Wire.token(demo, "tide-buoy-07", "&scope=tides.read");
        String bearer = "Authorization: Bearer " + token + "\r\n";
        int before = REACHED.get();
        List<String> tricks = List.of(
                "POST /fort/x HTTP/1.1\r\nHost: x\r\n" + bearer + "Content-Length: 4\r\nContent-Length: 5\r\n\r\nabcde",
                "POST /fort/x HTTP/1.1\r\nHost: x\r\n" + bearer
                        + "Content-Length: 4\r\nTransfer-Encoding: chunked\r\n\r\n0\r\n\r\nGET /fort/smuggled "
                        + "HTTP/1.1\r\nHost: x\r\n\r\n",
                "POST /fort/x HTTP/1.1\r\nHost: x\r\n" + bearer + "Transfer-Encoding: xchunked\r\n\r\n0\r\n\r\n",
                "POST /fort/x HTTP/1.0\r\nHost: x\r\n" + bearer
                        + "Connection: keep-alive\r\nTransfer-Encoding: chunked\r\n\r\n0\r\n\r\n",
                "POST /fort/x HTTP/1.1\r\nHost: x\r\n" + bearer + "Transfer-Encoding : chunked\r\n\r\n0\r\n\r\n",
                "POST /fort/x HTTP/1.1\r\nHost: x\r\n" + bearer + "Content-Length: +4\r\n\r\nabcd",
                "POST /fort/x HTTP/1.1\r\nHost: x\r\n" + bearer + "Content-Length: 4, 4, 5\r\n\r\nabcd",
                "GET /fort/x HTTP/1.1\r\nHost: x\r\nHost: y\r\n" + bearer + "\r\n",
                "GET /fort/x HTTP/1.1\r\n" + bearer + "\r\n",
                "GET /fort/x HTTP/1.1\r\nHost: x\r\n folded: yes\r\n" + bearer + "\r\n",
                "GET /fort/x HTTP/1.1\r\nHost: x\r\nX-Nul: a\0b\r\n" + bearer + "\r\n",
                "GET /fort/x HTTP/9.9\r\nHost: x\r\n" + bearer + "\r\n");
        for (String trick : tricks) {
            String answer = first(trick);
            assertThat(answer)
                    .as(trick.replace(token, "T").replace("\r\n", "⏎"))
                    .matches("(?s)HTTP/1.1 400.*|");
        }
        Thread.sleep(300);
        assertThat(REACHED.get()).as("none of them, nor one inside them").isEqualTo(before);
        stillWorks();
    }

    @Test
    void noNoiseOnAConnectionStopsTheService() throws Exception {
        Random random = new Random(SEED);
        String good = "GET /fort/x HTTP/1.1\r\nHost: x\r\nAuthorization: Bearer a.b.c\r\nAccept: */*\r\n\r\n";
        int before = REACHED.get();
        for (int i = 0; i < 400; i++) {
            StringBuilder noise = new StringBuilder(good);
            for (int n = 1 + random.nextInt(6); n > 0; n--) {
                int at = random.nextInt(noise.length());
                if (random.nextBoolean()) noise.setCharAt(at, (char) random.nextInt(256));
                else
                    noise.insert(
                            at,
                            List.of("\r\n", "\n", "\0", ": ", "%00", "\t", "Bearer ", "\r")
                                    .get(random.nextInt(8)));
            }
            try (Socket socket = new Socket("127.0.0.1", demo.gatewayPort)) {
                socket.setSoTimeout(2_000);
                socket.getOutputStream().write(noise.toString().getBytes(StandardCharsets.ISO_8859_1));
                socket.shutdownOutput();
                byte[] some = new byte[64];
                int n = socket.getInputStream().read(some);
                String answer = n < 0 ? "" : new String(some, 0, n, StandardCharsets.ISO_8859_1);
                assertThat(answer)
                        .as("seed %d, %d: %s", SEED, i, noise)
                        .doesNotContain("HTTP/1.1 200")
                        .doesNotContain("HTTP/1.1 5");
            } catch (IOException hungUp) {
                // as good an answer as any
            }
        }
        assertThat(REACHED.get()).isEqualTo(before);
        stillWorks();
    }

    @Test
    void whoSendsSlowlyHoldsNobodyElseUp() throws Exception {
        String token = Wire.token(demo, "tide-buoy-07", "&scope=tides.read");
        List<Socket> slow = new ArrayList<>();
        try {
            for (int i = 0; i < 100; i++) {
                Socket one = new Socket("127.0.0.1", demo.gatewayPort);
                slow.add(one);
                one.getOutputStream()
                        .write(("POST /fort/slow HTTP/1.1\r\nHost: x\r\nAuthorization: Bearer " + token
                                        + "\r\nContent-Length: 1000\r\n\r\n")
                                .getBytes());
            }
            for (int round = 0; round < 3; round++) {
                for (Socket one : slow) one.getOutputStream().write('x');
                stillWorks();
            }
        } finally {
            for (Socket one : slow) one.close();
        }
    }

    @Test
    void aThousandConnectionsThatSayNothingKeepNobodyOut() throws Exception {
        List<Socket> idle = new ArrayList<>();
        try {
            for (int i = 0; i < 1_000; i++) idle.add(new Socket("127.0.0.1", demo.gatewayPort));
            for (int i = 0; i < 500; i++)
                idle.get(i)
                        .getOutputStream()
                        .write("GET /fort/x HTTP/1.1\r\nHost:".getBytes(StandardCharsets.US_ASCII));
            stillWorks();
        } finally {
            for (Socket one : idle) one.close();
        }
        stillWorks();
    }

    @Test
    void aCompressedBombIsPassedOnAsItIsAndNeverOpened() throws Exception {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        try (GZIPOutputStream zip = new GZIPOutputStream(bytes)) {
            for (int i = 0; i < 500; i++) zip.write(new byte[1024 * 1024]);
        }
        String token = Wire.token(demo, "tide-buoy-07", "&scope=tides.read");
        var request = java.net.http.HttpRequest.newBuilder(java.net.URI.create(demo.gateway() + "/fort/zip"))
                .header("Authorization", "Bearer " + token)
                .header("Content-Encoding", "gzip")
                .POST(java.net.http.HttpRequest.BodyPublishers.ofByteArray(bytes.toByteArray()))
                .build();
        var response = java.net.http.HttpClient.newHttpClient()
                .send(request, java.net.http.HttpResponse.BodyHandlers.discarding());
        assertThat(response.statusCode()).isEqualTo(200);
        assertThat(Wire.send(
                                "POST",
                                demo.ready().path("issuers").path("harbour").asString() + "/token",
                                Map.of("Content-Encoding", "gzip", "Content-Type", "application/x-www-form-urlencoded"),
                                "x")
                        .status())
                .isEqualTo(400 + 1);
    }
}
