package dev.admit.cli;

import dev.admit.contract.IssuerView;
import dev.admit.contract.PageView;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.JavaType;
import tools.jackson.databind.JsonNode;

/** The admin API of the server that is meant, called as the operator who signed in. */
final class Admin {
    private final Http http;
    private final SavedServers saved;
    private final String serverName;
    private final SavedServers.Server server;
    private @Nullable String token;

    Admin(Http http, SavedServers saved, String serverName, SavedServers.Server server) {
        this.http = http;
        this.saved = saved;
        this.serverName = serverName;
        this.server = server;
    }

    /**
     * An answer of the admin API.
     *
     * @param etag empty when there was none
     */
    record Answer<T>(T value, JsonNode json, Optional<String> etag) {}

    SavedServers.Server server() {
        return server;
    }

    String serverName() {
        return serverName;
    }

    <T> Answer<T> get(String path, Class<T> type) {
        return read(send("GET", path, null, null), type);
    }

    <T> Answer<T> post(String path, @Nullable Object body, Class<T> type) {
        return read(send("POST", path, null, body), type);
    }

    /** An answer as it is. */
    String text(String path) {
        return send("GET", path, null, null).body();
    }

    /** Prints an answer as it is. */
    void text(String path, Output out) {
        out.line(text(path).stripTrailing());
    }

    /**
     * Posts, and writes the answer to a file that is not there yet, readable by this user alone.
     *
     * @return how many bytes
     */
    long download(String path, java.nio.file.Path to) {
        return http.download(server.adminApi() + path, Map.of("Authorization", "Bearer " + token()), to);
    }

    /**
     * Changes a thing from what it is now.
     *
     * @param etag of what was read
     */
    <T> Answer<T> change(String method, String path, @Nullable String etag, @Nullable Object body, Class<T> type) {
        return read(send(method, path, etag, body), type);
    }

    /** @return the answer's body where it has one */
    <T> Optional<Answer<T>> remove(String path, Class<T> type) {
        Http.Reply answer = send("DELETE", path, null, null);
        return answer.status() == 204 ? Optional.empty() : Optional.of(read(answer, type));
    }

    /** Every page of a list, up to a number of items. */
    <T> List<T> list(String path, Class<T> type, int most) {
        JavaType page = Http.JSON.getTypeFactory().constructParametricType(PageView.class, type);
        List<T> all = new ArrayList<>();
        @Nullable String after = "";
        do {
            String url = path + (path.contains("?") ? "&" : "?") + "limit=" + Math.min(200, most - all.size()) + after;
            PageView<T> one = Http.JSON.readValue(send("GET", url, null, null).body(), page);
            all.addAll(one.items());
            after = one.next() == null ? null : "&after=" + Http.encoded(one.next());
        } while (after != null && all.size() < most);
        return all;
    }

    /** The issuer that is meant: named, the server's usual one, or the only one that is not the operators' own. */
    String issuer(@Nullable String named) {
        if (named != null) return named;
        if (server.issuer() != null) return server.issuer();
        List<String> others = list("/issuers", IssuerView.class, 1000).stream()
                .map(IssuerView::name)
                .filter(name -> !name.equals("admit"))
                .toList();
        if (others.size() == 1) return others.getFirst();
        throw new Failure(
                Failure.WRONG_USAGE,
                others.isEmpty()
                        ? "There is no issuer yet. Make one with: admit issuer add NAME"
                        : "Which issuer is meant? Say --issuer with one of: " + String.join(", ", others) + ".");
    }

    private <T> Answer<T> read(Http.Reply answer, Class<T> type) {
        return new Answer<>(Http.JSON.readValue(answer.body(), type), Http.json(answer), answer.header("ETag"));
    }

    <T> T read(JsonNode json, TypeReference<T> type) {
        return Http.JSON.convertValue(json, type);
    }

    private Http.Reply send(String method, String path, @Nullable String etag, @Nullable Object body) {
        Map<String, String> headers = new HashMap<>();
        headers.put("Authorization", "Bearer " + token());
        headers.put("Accept", "application/json");
        if (body != null) headers.put("Content-Type", "application/json");
        if (etag != null) headers.put("If-Match", etag);
        Http.Reply answer = http.send(
                method, server.adminApi() + path, headers, body == null ? null : Http.JSON.writeValueAsString(body));
        if (answer.status() / 100 == 2) return answer;
        throw Http.failure(answer);
    }

    /**
     * While no other command does: each refresh token is good once, and the next one is kept before this one's answer
     * is used.
     */
    private JsonNode refreshed() {
        JsonNode[] tokens = new JsonNode[1];
        saved.change(contents -> {
            SavedServers.Server now = contents.servers().getOrDefault(serverName, server);
            tokens[0] = http.refresh(now.operator());
            SavedServers.Credential old = now.operator();
            return contents.with(
                    serverName,
                    now.withOperator(new SavedServers.Credential(
                            old.tokenEndpoint(),
                            old.clientId(),
                            tokens[0].path("refresh_token").asString(),
                            SavedServers.PERSON)),
                    false);
        });
        return tokens[0];
    }

    private String token() {
        if (token == null) {
            try {
                token = (server.isPersons() ? refreshed() : http.fetchToken(server.operator(), null, null))
                        .path("access_token")
                        .asString();
            } catch (Http.TokenRefused refused) {
                throw new Failure(
                        Failure.NOT_REACHABLE,
                        "The server '%s' no longer takes the credential of %s (%s). Sign in again with: admit sign-in"
                                .formatted(
                                        serverName,
                                        server.operator().clientId(),
                                        refused.body().path("reason").asString("refused")));
            }
        }
        return token;
    }
}
