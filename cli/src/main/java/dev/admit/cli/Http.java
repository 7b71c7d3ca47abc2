package dev.admit.cli;

import dev.admit.contract.Problem;
import java.io.IOException;
import java.io.InputStream;
import java.net.HttpURLConnection;
import java.net.MalformedURLException;
import java.net.URI;
import java.net.URLEncoder;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.security.GeneralSecurityException;
import java.security.KeyStore;
import java.security.cert.CertificateFactory;
import java.time.Duration;
import java.util.Arrays;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import javax.net.ssl.HttpsURLConnection;
import javax.net.ssl.SSLContext;
import javax.net.ssl.TrustManager;
import javax.net.ssl.TrustManagerFactory;
import org.jspecify.annotations.Nullable;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.DeserializationFeature;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Sends requests and reads answers, with failures told in sentences. */
final class Http {
    private static final Duration CONNECT = Duration.ofSeconds(5);
    private static final Duration ANSWER = Duration.ofSeconds(60);

    static final JsonMapper JSON = JsonMapper.builder()
            .disable(DeserializationFeature.FAIL_ON_UNKNOWN_PROPERTIES)
            .enable(tools.jackson.databind.SerializationFeature.INDENT_OUTPUT)
            .changeDefaultPropertyInclusion(
                    it -> it.withValueInclusion(com.fasterxml.jackson.annotation.JsonInclude.Include.NON_NULL))
            .build();

    private final @Nullable String authority;
    private @Nullable HttpClient plain;
    private @Nullable HttpClient encrypted;
    private @Nullable SSLContext trusted;
    private boolean isRead; // what is trusted, once

    static {
        // A request that changes something is never sent twice without being asked to.
        System.setProperty("sun.net.http.retryPost", "false");
    }

    /** What {@link #send} can be trusted with. Others are sent once more when an answer fails to come. */
    private static final Set<String> QUICK = Set.of("GET", "POST");

    /**
     * An answer.
     *
     * @param headers by their names in any case
     */
    record Reply(int status, Map<String, List<String>> headers, String body, URI uri) {
        Optional<String> header(String name) {
            List<String> values = headers.get(name);
            return values == null ? Optional.empty() : values.stream().findFirst();
        }
    }

    /** @param authority a file with certificates in PEM that are trusted instead of the usual ones; may be null */
    Http(@Nullable String authority) {
        this.authority = authority;
    }

    private HttpClient clientFor(URI url) {
        if ("https".equals(url.getScheme())) {
            if (encrypted == null) {
                HttpClient.Builder builder = common();
                SSLContext named = authority();
                encrypted = (named == null ? builder : builder.sslContext(named)).build();
            }
            return encrypted;
        }
        if (plain == null) plain = common().sslContext(trustingNobody()).build();
        return plain;
    }

    private @Nullable SSLContext authority() {
        if (!isRead) trusted = namedAuthority();
        isRead = true;
        return trusted;
    }

    /**
     * What ADMIT_CA names: a file with certificates in PEM that are trusted instead of the usual ones.
     *
     * @return null where nothing is named
     */
    private @Nullable SSLContext namedAuthority() {
        if (authority == null || authority.isBlank()) return null;
        try (var in = Files.newInputStream(Path.of(authority))) {
            KeyStore trusted = KeyStore.getInstance("PKCS12");
            trusted.load(null, null);
            int n = 0;
            for (var certificate : CertificateFactory.getInstance("X.509").generateCertificates(in))
                trusted.setCertificateEntry("ca" + n++, certificate);
            TrustManagerFactory managers = TrustManagerFactory.getInstance(TrustManagerFactory.getDefaultAlgorithm());
            managers.init(trusted);
            SSLContext context = SSLContext.getInstance("TLS");
            context.init(null, managers.getTrustManagers(), null);
            return context;
        } catch (IOException | GeneralSecurityException unreadable) {
            throw new Failure(
                    Failure.WRONG_USAGE,
                    "ADMIT_CA is %s, which holds no certificates that can be read. Name a PEM file."
                            .formatted(authority));
        }
    }

    private static HttpClient.Builder common() {
        return HttpClient.newBuilder().connectTimeout(CONNECT).version(HttpClient.Version.HTTP_1_1);
    }

    /**
     * For plain http: the client wants a context, and the usual one reads every root certificate, which takes longer
     * than the request.
     */
    private static SSLContext trustingNobody() {
        try {
            SSLContext context = SSLContext.getInstance("TLS");
            context.init(null, new TrustManager[0], null);
            return context;
        } catch (GeneralSecurityException everyJavaHasIt) {
            throw new IllegalStateException(everyJavaHasIt);
        }
    }

    /**
     * Sends to Admit itself, once. Reading and posting go by the older of Java's two clients, which is ready in a tenth
     * of the time; it knows no PATCH, and repeats what it takes for harmless. No redirect is followed: Admit gives
     * none.
     */
    Reply send(String method, String url, Map<String, String> headers, @Nullable String body) {
        if (!QUICK.contains(method)) return sendAny(method, url, headers, body);
        try {
            URI to = URI.create(url);
            HttpURLConnection connection = (HttpURLConnection) to.toURL().openConnection();
            if (connection instanceof HttpsURLConnection secured) {
                SSLContext named = authority();
                if (named != null) secured.setSSLSocketFactory(named.getSocketFactory());
            }
            connection.setRequestMethod(method);
            connection.setInstanceFollowRedirects(false);
            connection.setConnectTimeout((int) CONNECT.toMillis());
            connection.setReadTimeout((int) ANSWER.toMillis());
            headers.forEach(connection::setRequestProperty);
            if (body != null) {
                connection.setDoOutput(true);
                try (var out = connection.getOutputStream()) {
                    out.write(body.getBytes(StandardCharsets.UTF_8));
                }
            }
            return reply(to, connection);
        } catch (IllegalArgumentException | MalformedURLException malformed) {
            throw new Failure(Failure.WRONG_USAGE, "That makes no request: " + malformed.getMessage() + ".");
        } catch (IOException notReached) {
            throw notReached(url, notReached);
        }
    }

    private static Reply reply(URI to, HttpURLConnection connection) throws IOException {
        int status = connection.getResponseCode();
        Map<String, List<String>> headers = new TreeMap<>(String.CASE_INSENSITIVE_ORDER);
        connection.getHeaderFields().forEach((name, values) -> {
            if (name != null) headers.put(name, values); // the status line has none
        });
        try (InputStream in = status >= 400 ? connection.getErrorStream() : connection.getInputStream()) {
            String body = in == null ? "" : new String(in.readAllBytes(), StandardCharsets.UTF_8);
            return new Reply(status, headers, body, to);
        }
    }

    private static Failure notReached(String url, IOException why) {
        return new Failure(
                Failure.NOT_REACHABLE,
                "%s cannot be reached (%s). Check that it runs, and the address."
                        .formatted(
                                URI.create(url).getAuthority(), why.getClass().getSimpleName()));
    }

    /** Sends whatever a user composed, with any method and header. */
    Reply sendAny(String method, String url, Map<String, String> headers, @Nullable String body) {
        HttpRequest.Builder request;
        try {
            request = HttpRequest.newBuilder(URI.create(url))
                    .timeout(ANSWER)
                    .method(
                            method,
                            body == null
                                    ? HttpRequest.BodyPublishers.noBody()
                                    : HttpRequest.BodyPublishers.ofString(body));
            headers.forEach(request::header);
        } catch (IllegalArgumentException malformed) {
            throw new Failure(Failure.WRONG_USAGE, "That makes no request: " + malformed.getMessage() + ".");
        }
        try {
            HttpRequest built = request.build();
            HttpResponse<String> answer = clientFor(built.uri()).send(built, HttpResponse.BodyHandlers.ofString());
            return new Reply(answer.statusCode(), answer.headers().map(), answer.body(), answer.uri());
        } catch (IOException notReached) {
            throw notReached(url, notReached);
        } catch (InterruptedException interrupted) {
            Thread.currentThread().interrupt();
            throw new Failure(Failure.FAULT, "Interrupted.");
        }
    }

    /**
     * Posts, and writes the answer to a file that is not there yet.
     *
     * @return how many bytes
     */
    long download(String url, Map<String, String> headers, Path to) {
        HttpRequest.Builder request = HttpRequest.newBuilder(URI.create(url)).POST(HttpRequest.BodyPublishers.noBody());
        headers.forEach(request::header);
        try {
            Files.createFile(to, PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------")));
        } catch (FileAlreadyExistsException taken) {
            throw new Failure(
                    Failure.WRONG_USAGE,
                    "%s is there already, and is not written over. Name another file.".formatted(to));
        } catch (IOException unwritable) {
            throw new Failure(
                    Failure.WRONG_USAGE,
                    "%s cannot be made. Name a file in a folder that you can write to.".formatted(to));
        }
        try {
            HttpResponse<byte[]> answer = clientFor(URI.create(url))
                    .send(
                            request.build(),
                            info -> info.statusCode() == 200
                                    ? HttpResponse.BodySubscribers.mapping(
                                            HttpResponse.BodySubscribers.ofFile(to), file -> new byte[0])
                                    : HttpResponse.BodySubscribers.ofByteArray());
            if (answer.statusCode() == 200) return Files.size(to);
            Files.delete(to);
            throw new Failure(
                    Failure.FAULT,
                    "The server answered %d: %s"
                            .formatted(answer.statusCode(), new String(answer.body(), StandardCharsets.UTF_8)));
        } catch (IOException notReached) {
            throw new Failure(
                    Failure.NOT_REACHABLE,
                    "%s cannot be reached, or the file not written (%s)."
                            .formatted(URI.create(url).getAuthority(), notReached.getMessage()));
        } catch (InterruptedException interrupted) {
            Thread.currentThread().interrupt();
            throw new Failure(Failure.FAULT, "Interrupted.");
        }
    }

    /**
     * A token as a client on its own, or the refusal as a failure.
     *
     * @return the whole answer
     */
    JsonNode fetchToken(SavedServers.Credential client, @Nullable String scope, @Nullable String resource) {
        if ("private_key_jwt".equals(client.tokenEndpointAuthMethod())) {
            String assertion = ClientKey.assertion(
                    client.clientSecret(),
                    "the kept key",
                    client.clientId(),
                    client.tokenEndpoint(),
                    java.time.Instant.now());
            return fetchToken(client.tokenEndpoint(), assertion, scope, resource);
        }
        StringBuilder form = new StringBuilder("grant_type=client_credentials");
        if (scope != null) form.append("&scope=").append(encoded(scope));
        if (resource != null) form.append("&resource=").append(encoded(resource));
        Map<String, String> headers = Map.of("Content-Type", "application/x-www-form-urlencoded");
        if ("client_secret_post".equals(client.tokenEndpointAuthMethod())) {
            form.append("&client_id=")
                    .append(encoded(client.clientId()))
                    .append("&client_secret=")
                    .append(encoded(client.clientSecret()));
        } else {
            String pair = encoded(client.clientId()) + ":" + encoded(client.clientSecret());
            headers = Map.of(
                    "Content-Type",
                    "application/x-www-form-urlencoded",
                    "Authorization",
                    "Basic " + Base64.getEncoder().encodeToString(pair.getBytes(StandardCharsets.UTF_8)));
        }
        return token(send("POST", client.tokenEndpoint(), headers, form.toString()));
    }

    /**
     * Posts a form.
     *
     * @return the answer's status and JSON
     */
    Reply form(String url, String form) {
        return send("POST", url, Map.of("Content-Type", "application/x-www-form-urlencoded"), form);
    }

    /** The next pair of tokens of a person who signed in. */
    JsonNode refresh(SavedServers.Credential person) {
        return token(form(
                person.tokenEndpoint(),
                "grant_type=refresh_token&client_id=%s&refresh_token=%s"
                        .formatted(encoded(person.clientId()), encoded(person.clientSecret()))));
    }

    /** The same, as a client that proves itself by an assertion (RFC 7523 §2.2). */
    JsonNode fetchToken(String tokenEndpoint, String assertion, @Nullable String scope, @Nullable String resource) {
        StringBuilder form = new StringBuilder("grant_type=client_credentials&client_assertion_type=")
                .append(encoded("urn:ietf:params:oauth:client-assertion-type:jwt-bearer"))
                .append("&client_assertion=")
                .append(assertion);
        if (scope != null) form.append("&scope=").append(encoded(scope));
        if (resource != null) form.append("&resource=").append(encoded(resource));
        return token(send(
                "POST", tokenEndpoint, Map.of("Content-Type", "application/x-www-form-urlencoded"), form.toString()));
    }

    static JsonNode token(Reply answer) {
        JsonNode body = json(answer);
        if (answer.status() == 200) return body;
        throw new TokenRefused(answer.status(), body);
    }

    /** The token endpoint said no. */
    static final class TokenRefused extends RuntimeException {
        private final int status;
        private final transient JsonNode body;

        TokenRefused(int status, JsonNode body) {
            super("the token endpoint refused", null, false, false);
            this.status = status;
            this.body = body;
        }

        int status() {
            return status;
        }

        JsonNode body() {
            return body;
        }

        Failure asFailure() {
            String fix = body.path("fix").asString("");
            return new Failure(
                    Failure.REFUSED,
                    "Refused: %s (%s). %s%s%s"
                            .formatted(
                                    body.path("error").asString("no error code"),
                                    body.path("reason").asString("status " + status),
                                    body.path("error_description").asString(""),
                                    fix.isEmpty() ? "" : "\nFix: " + fix,
                                    body.has("decision")
                                            ? "\nWhy:  "
                                                    + command(
                                                            "admit decision show %s",
                                                            body.path("decision")
                                                                    .asString())
                                            : ""));
        }
    }

    static JsonNode json(Reply answer) {
        try {
            return JSON.readTree(answer.body());
        } catch (JacksonException notJson) {
            throw new Failure(
                    Failure.FAULT,
                    "%s answered %d with something that is no JSON. Is it Admit?"
                            .formatted(answer.uri().getAuthority(), answer.status()));
        }
    }

    /** A problem of the admin API as a failure. */
    static Failure failure(Reply answer) {
        Problem problem;
        try {
            problem = JSON.readValue(answer.body(), Problem.class);
        } catch (JacksonException none) {
            return new Failure(
                    Failure.FAULT, "%s answered %d.".formatted(answer.uri().getAuthority(), answer.status()));
        }
        if (problem.confirm() != null) {
            return new Failure(
                    Failure.REFUSED,
                    "%s\n  %s\nTo go on, say: --confirm %s"
                            .formatted(
                                    Objects.requireNonNullElse(problem.detail(), "")
                                            .replaceFirst(" Say confirm=.*", ""),
                                    String.join("\n  ", problem.wouldBreak()),
                                    shell(problem.confirm())));
        }
        StringBuilder text = new StringBuilder("Refused: ")
                .append(
                        problem.title() == null
                                ? "status " + answer.status()
                                : problem.title().replaceFirst("^Refused: ", ""))
                .append('.');
        if (problem.faults() != null && !problem.faults().isEmpty()) {
            problem.faults()
                    .forEach(fault -> text.append("\n  %sexpected %s; received %s. %s"
                            .formatted(
                                    fault.pointer().length() < 2
                                            ? ""
                                            : fault.pointer().substring(1) + ": ",
                                    fault.expected(),
                                    fault.received(),
                                    fault.fix())));
        } else if (problem.detail() != null) {
            text.append(' ').append(problem.detail());
        }
        if (problem.fix() != null && problem.fix().command() != null)
            text.append("\nFix: ").append(problem.fix().command());
        if (problem.decision() != null)
            text.append("\nWhy: admit decision show ").append(problem.decision());
        return new Failure(
                answer.status() == 401
                        ? Failure.NOT_REACHABLE
                        : answer.status() >= 500 ? Failure.FAULT : Failure.REFUSED,
                text.toString());
    }

    /**
     * A command of this program that can be pasted.
     *
     * @param template with %s for each word
     * @param words as they are meant
     */
    static String command(String template, Object... words) {
        return template.formatted(
                Arrays.stream(words).map(word -> shell(word.toString())).toArray());
    }

    /** A word as a shell takes it. */
    static String shell(String word) {
        return word.matches("[A-Za-z0-9._:@%+=,/-]+") ? word : "'" + word.replace("'", "'\\''") + "'";
    }

    /** The query of a list: names and values in turn, those without a value left out. */
    static String query(@Nullable String... namesAndValues) {
        StringBuilder query = new StringBuilder();
        for (int i = 0; i < namesAndValues.length; i += 2) {
            if (namesAndValues[i + 1] == null) continue;
            query.append(query.isEmpty() ? '?' : '&')
                    .append(namesAndValues[i])
                    .append('=')
                    .append(encoded(namesAndValues[i + 1]));
        }
        return query.toString();
    }

    static String encoded(String text) {
        return URLEncoder.encode(text, StandardCharsets.UTF_8);
    }
}
