package dev.admit.demo;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.TreeMap;
import java.util.concurrent.Executors;
import org.jspecify.annotations.Nullable;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.json.JsonMapper;

/** A small backend on loopback, standing in for one of the harbour's APIs. */
abstract class StandIn implements AutoCloseable {
    static final JsonMapper JSON = new JsonMapper();
    private static final int LARGEST_BODY = 1024 * 1024;

    private final HttpServer server;
    private volatile @Nullable ProofCheck proofs;

    StandIn() throws IOException {
        server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        server.setExecutor(Executors.newVirtualThreadPerTaskExecutor());
        server.createContext("/", this::answer);
    }

    /** @param proofs by which it knows what came through the gateway; null for a place that anybody may call */
    void start(@Nullable ProofCheck proofs) {
        this.proofs = proofs;
        server.start();
    }

    URI url() {
        return URI.create("http://127.0.0.1:" + server.getAddress().getPort());
    }

    /** An answer: a status, and what becomes its JSON. */
    record Reply(int status, Object body) {
        static Reply ok(Object body) {
            return new Reply(200, body);
        }

        /** A page, which is sent as it is. */
        static Reply page(String html) {
            return new Reply(200, html);
        }

        static Reply error(int status, String sentence) {
            return new Reply(status, Map.of("error", sentence));
        }
    }

    /**
     * @param path segments of the path, decoded
     * @param body may be empty
     */
    abstract Reply reply(String method, String[] path, byte[] body, HttpExchange exchange);

    /** The OpenAPI document of this backend, which anybody may have; empty for none. */
    Map<String, Object> document() {
        return Map.of();
    }

    private void answer(HttpExchange exchange) throws IOException {
        try (exchange) {
            byte[] body = exchange.getRequestBody().readNBytes(LARGEST_BODY);
            String path = exchange.getRequestURI().getPath();
            boolean described = path.equals("/openapi.json") && !document().isEmpty();
            boolean around = !described
                    && proofs != null
                    && !proofs.passes(exchange.getRequestHeaders().getFirst("Admit-Proof"));
            Reply reply = around
                    ? Reply.error(
                            403, "Call through the gateway: this backend takes no request without the gateway proof.")
                    : described
                            ? Reply.ok(document())
                            : path.equals("/received")
                                    ? Reply.ok(received(exchange, body))
                                    : reply(
                                            exchange.getRequestMethod(),
                                            path.substring(1).split("/"),
                                            body,
                                            exchange);
            boolean page = reply.body() instanceof String;
            byte[] json = page
                    ? ((String) reply.body()).getBytes(StandardCharsets.UTF_8)
                    : JSON.writeValueAsBytes(reply.body());
            exchange.getResponseHeaders().set("Content-Type", page ? "text/html; charset=utf-8" : "application/json");
            exchange.sendResponseHeaders(
                    reply.status(), exchange.getRequestMethod().equals("HEAD") ? -1 : json.length);
            if (!exchange.getRequestMethod().equals("HEAD"))
                exchange.getResponseBody().write(json);
        }
    }

    /** What the backend got, headers and all: the way to see what a gateway passes on. */
    private static Map<String, Object> received(HttpExchange exchange, byte[] body) {
        Map<String, Object> seen = new LinkedHashMap<>();
        seen.put("method", exchange.getRequestMethod());
        seen.put("path", exchange.getRequestURI().getRawPath());
        seen.put(
                "query",
                exchange.getRequestURI().getRawQuery() == null
                        ? ""
                        : exchange.getRequestURI().getRawQuery());
        Map<String, String> headers = new TreeMap<>(String.CASE_INSENSITIVE_ORDER);
        exchange.getRequestHeaders().forEach((name, values) -> headers.put(name, String.join(", ", values)));
        seen.put("headers", headers);
        seen.put("body", new String(body, StandardCharsets.UTF_8));
        return seen;
    }

    /** A JSON object whose members come in the order they were named in. */
    static Map<String, Object> inOrder(Object... namesAndValues) {
        Map<String, Object> object = new LinkedHashMap<>();
        for (int i = 0; i < namesAndValues.length; i += 2)
            object.put((String) namesAndValues[i], namesAndValues[i + 1]);
        return object;
    }

    /** The body as a JSON object; empty when it is none. */
    static Map<String, Object> object(byte[] body) {
        try {
            return JSON.readValue(body, new tools.jackson.core.type.TypeReference<Map<String, Object>>() {});
        } catch (JacksonException none) {
            return Map.of();
        }
    }

    @Override
    public void close() {
        server.stop(0);
    }
}
