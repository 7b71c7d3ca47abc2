package dev.admit.acceptance;

import java.io.IOException;
import java.net.Socket;
import java.net.URI;
import java.net.URLEncoder;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.Base64;
import java.util.Map;
import tools.jackson.databind.JsonNode;

/** Plain HTTP, as any other program would speak it. */
final class Wire {
    private static final HttpClient CLIENT = HttpClient.newBuilder()
            .version(HttpClient.Version.HTTP_1_1)
            .connectTimeout(Duration.ofSeconds(5))
            .build();

    private Wire() {}

    record Answer(int status, HttpResponse<String> response) {
        String body() {
            return response.body();
        }

        JsonNode json() {
            return Running.JSON.readTree(body());
        }

        String header(String name) {
            return response.headers().firstValue(name).orElse("");
        }
    }

    static Answer send(String method, String url, Map<String, String> headers, String body) throws Exception {
        HttpRequest.Builder request = HttpRequest.newBuilder(URI.create(url))
                .timeout(Duration.ofSeconds(30))
                .method(
                        method,
                        body == null ? HttpRequest.BodyPublishers.noBody() : HttpRequest.BodyPublishers.ofString(body));
        headers.forEach(request::header);
        HttpResponse<String> response = CLIENT.send(request.build(), HttpResponse.BodyHandlers.ofString());
        return new Answer(response.statusCode(), response);
    }

    static Answer get(String url) throws Exception {
        return send("GET", url, Map.of(), null);
    }

    static Answer call(String method, String url, String token) throws Exception {
        return send(method, url, Map.of("Authorization", "Bearer " + token), null);
    }

    static Answer form(String url, String authorization, String form) throws Exception {
        Map<String, String> headers = authorization == null
                ? Map.of("Content-Type", "application/x-www-form-urlencoded")
                : Map.of("Content-Type", "application/x-www-form-urlencoded", "Authorization", authorization);
        return send("POST", url, headers, form);
    }

    static String basic(JsonNode client) {
        String pair = encoded(client.path("client_id").asString()) + ":"
                + encoded(client.path("client_secret").asString());
        return "Basic " + Base64.getEncoder().encodeToString(pair.getBytes(StandardCharsets.UTF_8));
    }

    static String encoded(String text) {
        return URLEncoder.encode(text, StandardCharsets.UTF_8);
    }

    /**
     * A token of a demo client.
     *
     * @param more further parameters of the form, such as {@code &scope=tides.read}
     */
    static String token(Running demo, String client, String more) throws Exception {
        Answer answer = form(
                demo.ready().path("issuers").path("harbour").asString() + "/token",
                basic(demo.ready().path("clients").path(client)),
                "grant_type=client_credentials" + more);
        if (answer.status() != 200) throw new AssertionError(answer.body());
        return answer.json().path("access_token").asString();
    }

    /**
     * Sends bytes as they are, and returns all that comes until the other side closes. For what no HTTP library would
     * send.
     */
    static String raw(int port, String request) throws IOException {
        try (Socket socket = new Socket("127.0.0.1", port)) {
            socket.setSoTimeout(5000);
            socket.getOutputStream().write(request.getBytes(StandardCharsets.ISO_8859_1));
            socket.getOutputStream().flush();
            socket.shutdownOutput();
            return new String(socket.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        }
    }
}
