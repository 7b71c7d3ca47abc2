package dev.admit.demo;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.net.URLDecoder;
import java.net.URLEncoder;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.security.SecureRandom;
import java.util.Base64;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.Executors;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * The harbour's web application with a server of its own: it keeps its secret and the tokens there, and a cookie in the
 * browser.
 */
final class BerthDesk implements AutoCloseable {
    static final int PORT = 9495;
    private static final String CALLBACK = "http://127.0.0.1:" + PORT + "/back";
    private static final JsonMapper JSON = new JsonMapper();
    private static final HttpClient CLIENT = HttpClient.newHttpClient();
    private static final SecureRandom RANDOM = new SecureRandom();

    private final HttpServer server;
    private final String issuer;
    private final String gateway;
    private final String clientId;
    private final String secret;
    /** By the cookie of the browser. A demo forgets them when it ends. */
    private final Map<String, Visitor> visitors = new ConcurrentHashMap<>();

    /** @param tokens null until the person came back */
    private record Visitor(
            String state, String verifier, @Nullable JsonNode tokens) {}

    private BerthDesk(HttpServer server, String issuer, String gateway, String clientId, String secret) {
        this.server = server;
        this.issuer = issuer;
        this.gateway = gateway;
        this.clientId = clientId;
        this.secret = secret;
    }

    /** Empty when the port, which its registration names, is taken. */
    static Optional<BerthDesk> start(String issuer, String gateway, String clientId, String secret) {
        try {
            HttpServer server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), PORT), 0);
            BerthDesk desk = new BerthDesk(server, issuer, gateway, clientId, secret);
            server.createContext("/", desk::answer);
            server.setExecutor(Executors.newVirtualThreadPerTaskExecutor());
            server.start();
            return Optional.of(desk);
        } catch (IOException taken) {
            return Optional.empty();
        }
    }

    private void answer(HttpExchange exchange) throws IOException {
        try (exchange) {
            String cookie = cookie(exchange);
            try {
                switch (exchange.getRequestURI().getPath()) {
                    case "/" -> home(exchange, cookie);
                    case "/enter" -> enter(exchange);
                    case "/back" -> back(exchange, cookie);
                    case "/app.css" ->
                        send(
                                exchange,
                                200,
                                "text/css",
                                new String(QuaysideBoard.read("app.css"), StandardCharsets.UTF_8));
                    default -> page(exchange, 404, "<p>Nothing is here.</p>");
                }
            } catch (InterruptedException stopping) {
                Thread.currentThread().interrupt();
            }
        }
    }

    private void home(HttpExchange exchange, String cookie) throws IOException, InterruptedException {
        Visitor visitor = visitors.get(cookie);
        JsonNode tokens = visitor == null ? null : visitor.tokens();
        JsonNode person = tokens == null ? JSON.nullNode() : get(issuer + "/userinfo", tokens);
        if (tokens == null || !person.has("sub")) { // nobody came yet, or they signed out, here or elsewhere
            visitors.remove(cookie);
            page(exchange, 200, "<p>Nobody is signed in.</p><p><a class=button href=/enter>Sign in</a></p>");
            return;
        }
        JsonNode berth = get(gateway + "/berths/n1", tokens);
        String out = issuer + "/end-session?id_token_hint="
                + tokens.path("id_token").asString() + "&post_logout_redirect_uri="
                + encoded("http://127.0.0.1:" + PORT + "/");
        page(
                exchange,
                200,
                ("<p>Signed in as %s.</p><table><tr><td>Berth n1</td><td>%s</td></tr></table><p><a class=button "
                                + "href=\"%s\">Sign out</a></p>")
                        .formatted(
                                escaped(person.path("name").asString()),
                                escaped(berth.path("ship")
                                        .asString(berth.path("detail").asString("free"))),
                                out));
    }

    private void enter(HttpExchange exchange) throws IOException {
        String cookie = random();
        Visitor visitor = new Visitor(random(), random(), null);
        visitors.put(cookie, visitor);
        exchange.getResponseHeaders().add("Set-Cookie", "desk=" + cookie + "; Path=/; HttpOnly; SameSite=Lax");
        redirect(
                exchange,
                issuer
                        + ("/authorize?client_id=%s&redirect_uri=%s&response_type=code&scope=%s&state=%s&"
                                        + "code_challenge=%s&code_challenge_method=S256")
                                .formatted(
                                        clientId,
                                        encoded(CALLBACK),
                                        encoded("openid profile berths.read"),
                                        visitor.state(),
                                        challenge(visitor.verifier())));
    }

    private void back(HttpExchange exchange, String cookie) throws IOException, InterruptedException {
        Map<String, String> answer = parameters(exchange.getRequestURI().getRawQuery());
        Visitor visitor = visitors.remove(cookie);
        if (visitor == null || !visitor.state().equals(answer.get("state")) || !issuer.equals(answer.get("iss"))) {
            page(exchange, 400, "<p>This is no answer to what was asked here.</p>");
            return;
        }
        if (answer.containsKey("error")) {
            page(
                    exchange,
                    200,
                    "<p>Not signed in: %s</p><p><a class=button href=/enter>Try again</a></p>"
                            .formatted(escaped(answer.getOrDefault("error_description", answer.get("error")))));
            return;
        }
        String code = answer.get("code");
        if (code == null) {
            page(exchange, 400, "<p>This is no answer to what was asked here.</p>");
            return;
        }
        String form =
                "grant_type=authorization_code&code=%s&redirect_uri=%s&code_verifier=%s&client_id=%s&client_secret=%s"
                        .formatted(encoded(code), encoded(CALLBACK), visitor.verifier(), clientId, encoded(secret));
        JsonNode tokens = JSON.readTree(CLIENT.send(
                        HttpRequest.newBuilder(URI.create(issuer + "/token"))
                                .header("Content-Type", "application/x-www-form-urlencoded")
                                .POST(HttpRequest.BodyPublishers.ofString(form))
                                .build(),
                        HttpResponse.BodyHandlers.ofString())
                .body());
        String fresh = random();
        visitors.put(fresh, new Visitor("", "", tokens));
        exchange.getResponseHeaders().add("Set-Cookie", "desk=" + fresh + "; Path=/; HttpOnly; SameSite=Lax");
        redirect(exchange, "/");
    }

    private static JsonNode get(String url, JsonNode tokens) throws IOException, InterruptedException {
        return JSON.readTree(CLIENT.send(
                        HttpRequest.newBuilder(URI.create(url))
                                .header(
                                        "Authorization",
                                        "Bearer " + tokens.path("access_token").asString())
                                .build(),
                        HttpResponse.BodyHandlers.ofString())
                .body());
    }

    private static void page(HttpExchange exchange, int status, String body) throws IOException {
        send(
                exchange,
                status,
                "text/html;charset=UTF-8",
                "<!DOCTYPE html><html lang=en><meta charset=utf-8><title>Berth desk</title><link rel=stylesheet "
                        + "href=/app.css><main><h1>Berth desk</h1>"
                        + body + "</main></html>");
    }

    private static void send(HttpExchange exchange, int status, String type, String body) throws IOException {
        byte[] bytes = body.getBytes(StandardCharsets.UTF_8);
        exchange.getResponseHeaders().set("Content-Type", type);
        exchange.getResponseHeaders()
                .set("Content-Security-Policy", "default-src 'none'; style-src 'self'; frame-ancestors 'none'");
        exchange.sendResponseHeaders(status, bytes.length);
        exchange.getResponseBody().write(bytes);
    }

    private static void redirect(HttpExchange exchange, String to) throws IOException {
        exchange.getResponseHeaders().set("Location", to);
        exchange.sendResponseHeaders(303, -1);
    }

    private static String cookie(HttpExchange exchange) {
        for (String pair : String.join(";", exchange.getRequestHeaders().getOrDefault("Cookie", java.util.List.of()))
                .split(";")) {
            if (pair.strip().startsWith("desk=")) return pair.strip().substring(5);
        }
        return "";
    }

    private static Map<String, String> parameters(String query) {
        Map<String, String> all = new LinkedHashMap<>();
        for (String pair : query == null ? new String[0] : query.split("&")) {
            int equals = pair.indexOf('=');
            if (equals > 0)
                all.put(
                        pair.substring(0, equals),
                        URLDecoder.decode(pair.substring(equals + 1), StandardCharsets.UTF_8));
        }
        return all;
    }

    private static String encoded(String text) {
        return URLEncoder.encode(text == null ? "" : text, StandardCharsets.UTF_8);
    }

    private static String escaped(String text) {
        return text == null
                ? ""
                : text.replace("&", "&amp;").replace("<", "&lt;").replace("\"", "&quot;");
    }

    private static String random() {
        byte[] bytes = new byte[32];
        RANDOM.nextBytes(bytes);
        return Base64.getUrlEncoder().withoutPadding().encodeToString(bytes);
    }

    private static String challenge(String verifier) {
        try {
            return Base64.getUrlEncoder()
                    .withoutPadding()
                    .encodeToString(
                            MessageDigest.getInstance("SHA-256").digest(verifier.getBytes(StandardCharsets.US_ASCII)));
        } catch (NoSuchAlgorithmException everyJavaHasIt) {
            throw new IllegalStateException(everyJavaHasIt);
        }
    }

    @Override
    public void close() {
        server.stop(0);
    }
}
