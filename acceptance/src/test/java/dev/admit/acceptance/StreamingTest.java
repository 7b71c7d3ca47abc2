package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.sun.net.httpserver.HttpServer;
import java.io.BufferedReader;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.OutputStream;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.Executors;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicLong;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.parallel.ResourceLock;

/** Bodies and answers pass as they come, both ways; nothing is gathered. */
@ResourceLock(Running.DEMO)
class StreamingTest {
    private static Running demo;
    private static HttpServer backend;
    private static final CountDownLatch FIRST_EVENT_READ = new CountDownLatch(1);
    private static final CountDownLatch FIRST_BYTES_THERE = new CountDownLatch(1);
    private static final AtomicLong UPLOADED = new AtomicLong();

    @BeforeAll
    static void start() throws Exception {
        demo = Running.demo();
        backend = HttpServer.create(new InetSocketAddress("127.0.0.1", 0), 0);
        backend.setExecutor(Executors.newVirtualThreadPerTaskExecutor());
        backend.createContext("/stream/events", exchange -> {
            try (exchange) {
                exchange.getResponseHeaders().set("Content-Type", "text/event-stream");
                exchange.sendResponseHeaders(200, 0);
                OutputStream events = exchange.getResponseBody();
                events.write("data: one\n\n".getBytes());
                events.flush();
                boolean read = FIRST_EVENT_READ.await(10, TimeUnit.SECONDS);
                events.write(("data: " + (read ? "two" : "the first was not passed on") + "\n\n").getBytes());
            } catch (InterruptedException ended) {
                Thread.currentThread().interrupt();
            }
        });
        backend.createContext("/stream/upload", exchange -> {
            try (exchange;
                    InputStream body = exchange.getRequestBody()) {
                byte[] some = new byte[64 * 1024];
                for (int n = body.read(some); n >= 0; n = body.read(some)) {
                    UPLOADED.addAndGet(n);
                    FIRST_BYTES_THERE.countDown();
                }
                byte[] answer = String.valueOf(UPLOADED.get()).getBytes();
                exchange.sendResponseHeaders(200, answer.length);
                exchange.getResponseBody().write(answer);
            }
        });
        backend.start();
        Operator operator = Operator.of(demo);
        Wire.Answer made = operator.harbour(
                "POST",
                "/routes",
                "{\"path\":\"/stream/**\",\"open\":true,\"upstream\":\"http://127.0.0.1:%d\"}"
                        .formatted(backend.getAddress().getPort()));
        assertThat(made.status()).as(made.body()).isEqualTo(201);
    }

    @AfterAll
    static void stop() {
        backend.stop(0);
    }

    @Test
    void anEventIsThereBeforeTheNextOneIsSent() throws Exception {
        HttpRequest request = HttpRequest.newBuilder(URI.create(demo.gateway() + "/stream/events"))
                .header("Accept", "text/event-stream")
                .build();
        HttpResponse<InputStream> answer =
                HttpClient.newHttpClient().send(request, HttpResponse.BodyHandlers.ofInputStream());
        try (BufferedReader events = new BufferedReader(new InputStreamReader(answer.body(), StandardCharsets.UTF_8))) {
            assertThat(events.readLine()).isEqualTo("data: one");
            FIRST_EVENT_READ.countDown();
            events.readLine();
            assertThat(events.readLine()).isEqualTo("data: two");
        }
    }

    @Test
    void anUploadReachesTheBackendWhileItIsSent() throws Exception {
        int chunk = 512 * 1024;
        int chunks = 18; // just under the gateway's ten mebibytes
        try (Socket socket = new Socket("127.0.0.1", demo.gatewayPort)) {
            socket.setSoTimeout(10_000);
            OutputStream to = socket.getOutputStream();
            to.write("POST /stream/upload HTTP/1.1\r\nHost: x\r\nConnection: close\r\nContent-Length: %d\r\n\r\n"
                    .formatted((long) chunk * chunks)
                    .getBytes());
            to.write(new byte[chunk]);
            to.flush();
            assertThat(FIRST_BYTES_THERE.await(10, TimeUnit.SECONDS))
                    .as("before the rest was sent")
                    .isTrue();
            for (int i = 1; i < chunks; i++) to.write(new byte[chunk]);
            to.flush();
            String answer = new String(socket.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
            assertThat(answer).startsWith("HTTP/1.1 200").endsWith(String.valueOf((long) chunk * chunks));
        }
    }
}
