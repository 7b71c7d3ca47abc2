package dev.admit.acceptance;

import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.SecureRandom;
import java.util.ArrayList;
import java.util.Base64;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import tools.jackson.databind.JsonNode;

/** A person at a browser without script: keeps cookies, follows redirects within the service, fills in forms. */
final class Visitor {
    private static final HttpClient CLIENT =
            HttpClient.newBuilder().followRedirects(HttpClient.Redirect.NEVER).build();
    private static final Pattern HIDDEN =
            Pattern.compile("<input\\s+type=\"hidden\"\\s+name=\"([^\"]*)\"\\s+value=\"([^\"]*)\"");

    private final Running demo;
    final Map<String, String> cookies = new LinkedHashMap<>();

    Visitor(Running demo) {
        this.demo = demo;
    }

    /** @param location where the browser was sent that is not this service; empty when a page came */
    record Seen(int status, String body, HttpResponse<String> response, String location, Visitor by) {
        /** What a person reads. */
        String text() {
            return unescaped(body.replaceAll("(?s)<(script|style|title|svg).*?</\\1>", "")
                    .replaceAll("<[^>]+>", " ")
                    .replaceAll("\\s+", " "));
        }

        String header(String name) {
            return response.headers().firstValue(name).orElse("");
        }

        /** Of the address that the browser was sent to. */
        String parameter(String name) {
            return Visitor.parameters(location).getOrDefault(name, "");
        }

        List<String> hidden(String name) {
            List<String> values = new ArrayList<>();
            for (Matcher it = HIDDEN.matcher(body); it.find(); )
                if (it.group(1).equals(name)) values.add(unescaped(it.group(2)));
            return values;
        }

        /**
         * Sends the page's form.
         *
         * @param typed name, value, name, value
         */
        Seen send(String path, String... typed) throws Exception {
            StringBuilder form = new StringBuilder();
            for (Matcher it = HIDDEN.matcher(body); it.find(); )
                form.append('&')
                        .append(Wire.encoded(unescaped(it.group(1))))
                        .append('=')
                        .append(Wire.encoded(unescaped(it.group(2))));
            for (int i = 0; i < typed.length; i += 2)
                form.append('&').append(Wire.encoded(typed[i])).append('=').append(Wire.encoded(typed[i + 1]));
            return by.post(path, form.substring(Math.min(1, form.length())));
        }
    }

    private static String unescaped(String text) {
        return text.replace("&lt;", "<")
                .replace("&gt;", ">")
                .replace("&quot;", "\"")
                .replace("&#39;", "'")
                .replace("&amp;", "&");
    }

    static Map<String, String> parameters(String address) {
        Map<String, String> all = new LinkedHashMap<>();
        String query = URI.create(address).getRawQuery();
        for (String pair : query == null ? new String[0] : query.split("&")) {
            all.put(
                    pair.substring(0, pair.indexOf('=')),
                    java.net.URLDecoder.decode(pair.substring(pair.indexOf('=') + 1), StandardCharsets.UTF_8));
        }
        return all;
    }

    Seen get(String path, String... headers) throws Exception {
        HttpRequest.Builder request = HttpRequest.newBuilder(uri(path));
        return send(request, headers);
    }

    Seen post(String path, String form, String... headers) throws Exception {
        return send(
                HttpRequest.newBuilder(uri(path))
                        .header("Content-Type", "application/x-www-form-urlencoded")
                        .POST(HttpRequest.BodyPublishers.ofString(form)),
                headers);
    }

    private URI uri(String path) {
        return URI.create(path.startsWith("http") ? path : demo.server() + path);
    }

    private Seen send(HttpRequest.Builder request, String... headers) throws Exception {
        if (!cookies.isEmpty())
            request.header(
                    "Cookie",
                    String.join(
                            "; ",
                            cookies.entrySet().stream()
                                    .map(it -> it.getKey() + "=" + it.getValue())
                                    .toList()));
        for (int i = 0; i < headers.length; i += 2) request.header(headers[i], headers[i + 1]);
        HttpResponse<String> response = CLIENT.send(request.build(), HttpResponse.BodyHandlers.ofString());
        for (String cookie : response.headers().allValues("Set-Cookie"))
            cookies.put(
                    cookie.substring(0, cookie.indexOf('=')),
                    cookie.substring(cookie.indexOf('=') + 1, cookie.indexOf(';')));
        String location = response.headers().firstValue("Location").orElse("");
        if (location.isEmpty()) return new Seen(response.statusCode(), response.body(), response, "", this);
        if (location.startsWith("/") || location.startsWith(demo.server() + "/")) return get(location);
        return new Seen(response.statusCode(), response.body(), response, location, this);
    }

    /** One of the demo's people. */
    static JsonNode person(Running demo, String name) {
        for (JsonNode it : demo.ready().path("people"))
            if (it.path("login").asString().startsWith(name + ".")) return it;
        throw new AssertionError("nobody is called " + name);
    }

    /** Fills in the sign-in page. */
    static Seen signIn(Seen page, Running demo, String name) throws Exception {
        JsonNode person = person(demo, name);
        return page.send(
                "/" + person.path("issuer").asString() + "/sign-in",
                "email",
                person.path("login").asString(),
                "password",
                person.path("password").asString());
    }

    /** Says yes to whatever is asked; a page that is no question is handed back. */
    static Seen approve(Seen page) throws Exception {
        return page.body().contains("/harbour/approve\"") ? page.send("/harbour/approve", "answer", "yes") : page;
    }

    /** A proof key (RFC 7636). */
    record Pkce(String verifier, String challenge) {
        static Pkce make() throws Exception {
            byte[] bytes = new byte[32];
            new SecureRandom().nextBytes(bytes);
            String verifier = Base64.getUrlEncoder().withoutPadding().encodeToString(bytes);
            return new Pkce(
                    verifier,
                    Base64.getUrlEncoder()
                            .withoutPadding()
                            .encodeToString(MessageDigest.getInstance("SHA-256")
                                    .digest(verifier.getBytes(StandardCharsets.US_ASCII))));
        }
    }

    /**
     * An authorization request of a demo client; more parameters replace the usual ones, and an empty value takes one
     * out.
     */
    static String asking(Running demo, String client, Pkce pkce, String scope, String... more) {
        Map<String, String> all = new LinkedHashMap<>();
        all.put(
                "client_id",
                demo.ready().path("clients").path(client).path("client_id").asString());
        all.put("redirect_uri", redirect(client));
        all.put("response_type", "code");
        all.put("scope", scope);
        all.put("state", "the-state");
        all.put("nonce", "the-nonce");
        all.put("code_challenge", pkce.challenge());
        all.put("code_challenge_method", "S256");
        StringBuilder resources = new StringBuilder();
        for (int i = 0; i < more.length; i += 2) {
            if (more[i].equals("resource")) resources.append("&resource=").append(Wire.encoded(more[i + 1]));
            else if (more[i + 1].isEmpty()) all.remove(more[i]);
            else all.put(more[i], more[i + 1]);
        }
        return "/harbour/authorize?"
                + String.join(
                        "&",
                        all.entrySet().stream()
                                .map(it -> it.getKey() + "=" + Wire.encoded(it.getValue()))
                                .toList())
                + resources;
    }

    static String redirect(String client) {
        return switch (client) {
            case "berth-desk" -> "http://127.0.0.1:9495/back";
            case "quayside-board" -> "http://127.0.0.1:9496/back";
            default -> "http://127.0.0.1:53123/back"; // native: any port
        };
    }

    /** Exchanges a code. */
    static Wire.Answer exchange(Running demo, String client, String code, Pkce pkce, String more) throws Exception {
        return token(
                demo,
                client,
                "grant_type=authorization_code&code=%s&redirect_uri=%s&code_verifier=%s"
                                .formatted(Wire.encoded(code), Wire.encoded(redirect(client)), pkce.verifier())
                        + more);
    }

    static Wire.Answer refresh(Running demo, String client, String refreshToken, String more) throws Exception {
        return token(demo, client, "grant_type=refresh_token&refresh_token=" + Wire.encoded(refreshToken) + more);
    }

    /** A token request as the client proves itself. */
    static Wire.Answer token(Running demo, String client, String form) throws Exception {
        JsonNode it = demo.ready().path("clients").path(client);
        String proof = "&client_id=" + it.path("client_id").asString()
                + (it.path("client_secret").isNull()
                        ? ""
                        : "&client_secret="
                                + Wire.encoded(it.path("client_secret").asString()));
        return Wire.form(demo.ready().path("issuers").path("harbour").asString() + "/token", null, form + proof);
    }

    /** The whole way, for a person who says yes. */
    static JsonNode tokens(Running demo, String client, String name, String scope, String... more) throws Exception {
        Pkce pkce = Pkce.make();
        Seen back = approve(signIn(new Visitor(demo).get(asking(demo, client, pkce, scope, more)), demo, name));
        Wire.Answer answer = exchange(demo, client, back.parameter("code"), pkce, "");
        if (answer.status() != 200) throw new AssertionError(back.location() + back.text() + answer.body());
        return answer.json();
    }

    static JsonNode claims(String token) {
        return Running.JSON.readTree(
                new String(Base64.getUrlDecoder().decode(token.split("\\.")[1]), StandardCharsets.UTF_8));
    }
}
