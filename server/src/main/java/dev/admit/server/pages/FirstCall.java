package dev.admit.server.pages;

import dev.admit.core.catalogue.Documentation;
import dev.admit.core.decision.Command;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.ClientKind;
import dev.admit.core.registry.Scope;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;

/** Lines to paste: a token, and a call of one operation. */
final class FirstCall {
    private FirstCall() {}

    /** @param line a command, or the address that a person's browser is sent to */
    public record Token(String how, String line) {}

    /**
     * How a client gets a token for an API.
     *
     * @param client of the reader; empty for a program of their own that is not registered yet
     * @param scopes that clients on their own may have, and that people approve
     */
    static Optional<Token> token(String issuer, Optional<Client> client, Api api, List<Scope> scopes) {
        ClientKind kind = client.map(Client::kind).orElse(ClientKind.MACHINE);
        List<String> names = scopes.stream()
                .filter(it -> kind == ClientKind.MACHINE
                        ? it.forWhom().clients()
                        : it.forWhom().people())
                .filter(it -> it.effect() == Scope.Effect.READS)
                .map(Scope::name)
                .toList();
        if (names.isEmpty()) return Optional.empty();
        String id = client.map(Client::id).orElse("CLIENT_ID");
        String name = client.map(Client::name).orElse("A program of your own");
        Map<String, String> asked = new LinkedHashMap<>();
        asked.put("scope", String.join(" ", names));
        // RFC 8707 §2: a resource is an absolute URI.
        if (api.audience().contains(":")) asked.put("resource", api.audience());
        return Optional.of(
                switch (kind) {
                    case MACHINE ->
                        new Token(
                                name + " gets it on its own.",
                                form(
                                        List.of("-u", id + ":CLIENT_SECRET"),
                                        "client_credentials",
                                        asked,
                                        issuer + "/token"));
                    case DEVICE ->
                        new Token(
                                name + " asks a person to approve at another screen.",
                                form(List.of("-d", "client_id=" + id), "", asked, issuer + "/device_authorization"));
                    case WEB, BROWSER, NATIVE ->
                        new Token(
                                name + " sends a person here, and gets it for the code that comes back.",
                                authorization(issuer, id, client.orElseThrow(), asked));
                });
    }

    private static String form(List<String> proof, String grantType, Map<String, String> asked, String to) {
        List<String> words = new ArrayList<>(List.of("curl", "-s"));
        words.addAll(proof);
        if (!grantType.isEmpty()) words.addAll(List.of("-d", "grant_type=" + grantType));
        asked.forEach((name, value) -> words.addAll(List.of("--data-urlencode", name + "=" + value)));
        words.add(to);
        return line(words);
    }

    private static String authorization(String issuer, String id, Client client, Map<String, String> asked) {
        Map<String, String> all = new LinkedHashMap<>();
        all.put("response_type", "code");
        all.put("client_id", id);
        client.addresses().redirects().stream().findFirst().ifPresent(it -> all.put("redirect_uri", it));
        all.putAll(asked);
        all.put("code_challenge", "CODE_CHALLENGE");
        all.put("code_challenge_method", "S256");
        all.put("state", "STATE");
        return issuer + "/authorize?"
                + all.entrySet().stream()
                        .map(it -> it.getKey() + "=" + encoded(it.getValue()))
                        .collect(Collectors.joining("&"));
    }

    /** @param of with its examples in the places of its parameters */
    static String call(Documentation.Operation of) {
        List<String> words = new ArrayList<>();
        if (!of.method().equals("GET")) words.addAll(List.of("-X", of.method()));
        of.body().ifPresent(body -> {
            words.addAll(List.of("-H", "Content-Type: " + body.mediaType()));
            // One line: a line break in JSON stands between its parts, never within a text (RFC 8259 §7).
            words.addAll(List.of("--data-raw", body.example().replaceAll("\\s*\n\\s*", " ")));
        });
        words.add(url(of));
        // In double quotes, so that a shell puts the token in its place.
        return "curl -s " + (of.open() ? "" : "-H \"Authorization: Bearer $ACCESS_TOKEN\" ") + line(words);
    }

    private static String line(List<String> words) {
        return words.stream().map(Command::quoted).collect(Collectors.joining(" "));
    }

    private static String url(Documentation.Operation of) {
        String path = of.path();
        StringBuilder query = new StringBuilder();
        for (Documentation.Parameter it : of.parameters()) {
            String value = encoded(it.example().isEmpty() ? it.name().toUpperCase(Locale.ROOT) : it.example());
            if (it.in().equals("path")) path = path.replace("{" + it.name() + "}", value);
            else if (it.in().equals("query") && it.required())
                query.append(query.isEmpty() ? '?' : '&')
                        .append(encoded(it.name()))
                        .append('=')
                        .append(value);
        }
        return of.server() + path + query;
    }

    private static String encoded(String text) {
        return URLEncoder.encode(text, StandardCharsets.UTF_8).replace("+", "%20");
    }
}
