package dev.admit.demo;

import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.io.InputStream;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.Executors;

/**
 * The harbour's single-page application: a page, a script, and where everything is today. All the rest happens in the
 * browser.
 */
final class QuaysideBoard implements AutoCloseable {
    static final int PORT = 9496;
    private static final Map<String, String> FILES =
            Map.of("/", "board.html", "/back", "board.html", "/board.js", "board.js", "/app.css", "app.css");

    private final HttpServer server;

    private QuaysideBoard(HttpServer server) {
        this.server = server;
    }

    /** Empty when the port, which its registration names, is taken. */
    static Optional<QuaysideBoard> start(String issuer, String gateway, String clientId) {
        try {
            HttpServer server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), PORT), 0);
            String config = ("const config = {issuer: '%s', gateway: '%s', clientId: '%s', audiences: "
                            + "['https://tides.saltmarsh.example', 'https://berths.saltmarsh.example']};")
                    .formatted(issuer, gateway, clientId);
            server.createContext("/", exchange -> {
                try (exchange) {
                    String path = exchange.getRequestURI().getPath();
                    byte[] body = path.equals("/config.js")
                            ? config.getBytes(StandardCharsets.UTF_8)
                            : FILES.containsKey(path) ? read(FILES.get(path)) : new byte[0];
                    exchange.getResponseHeaders()
                            .set(
                                    "Content-Type",
                                    path.endsWith(".js")
                                            ? "text/javascript"
                                            : path.endsWith(".css") ? "text/css" : "text/html;charset=UTF-8");
                    exchange.getResponseHeaders()
                            .set(
                                    "Content-Security-Policy",
                                    "default-src 'none'; script-src 'self'; style-src 'self'; connect-src %s %s"
                                            .formatted(origin(issuer), origin(gateway)));
                    exchange.sendResponseHeaders(body.length == 0 ? 404 : 200, body.length == 0 ? -1 : body.length);
                    if (body.length > 0) exchange.getResponseBody().write(body);
                }
            });
            server.setExecutor(Executors.newVirtualThreadPerTaskExecutor());
            server.start();
            return Optional.of(new QuaysideBoard(server));
        } catch (IOException taken) {
            return Optional.empty();
        }
    }

    static String origin(String url) {
        return url.substring(0, url.indexOf('/', 8) < 0 ? url.length() : url.indexOf('/', 8));
    }

    static byte[] read(String file) throws IOException {
        try (InputStream in = QuaysideBoard.class.getResourceAsStream("/apps/" + file)) {
            return in.readAllBytes();
        }
    }

    @Override
    public void close() {
        server.stop(0);
    }
}
