package dev.admit.cli;

import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.security.MessageDigest;
import java.security.SecureRandom;
import java.util.Base64;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.JsonNode;

/**
 * Signs a person in: in a browser on this machine by a code that comes back on loopback (RFC 8252), or in one elsewhere
 * by a short code (RFC 8628).
 */
final class PersonSignIn {
    private static final String SCOPE = "openid offline_access admit:run";
    private static final int MINUTES = 10;

    private final Common common;
    private final String issuer;
    private final String clientId;
    private final @Nullable String name;

    PersonSignIn(Common common, String issuer, @Nullable String clientId, @Nullable String name) {
        if (clientId == null)
            throw new Failure(
                    Failure.WRONG_USAGE,
                    "Say --client-id too: the client that stands for this command line at the issuer. An "
                            + "administrator registers one with kind native and --openid-scope admit:run.");
        this.common = common;
        this.issuer = issuer;
        this.clientId = clientId.strip();
        this.name = name;
    }

    void run(boolean device) {
        JsonNode metadata =
                Http.json(common.http().send("GET", issuer + "/.well-known/openid-configuration", Map.of(), null));
        if (!metadata.path("issuer").asString("").equals(issuer))
            throw new Failure(
                    Failure.WRONG_USAGE,
                    "%s is no issuer: its metadata says something else of itself. Check the address."
                            .formatted(issuer));
        JsonNode tokens = device ? byDevice(metadata) : byBrowser(metadata);
        String adminApi = issuer.substring(0, issuer.lastIndexOf('/')) + "/admin";
        JsonNode service = Http.json(common.http()
                .send(
                        "GET",
                        adminApi,
                        Map.of(
                                "Authorization",
                                "Bearer " + tokens.path("access_token").asString()),
                        null));
        if (!service.has("gateway"))
            throw new Failure(
                    Failure.REFUSED,
                    "Signed in, but not to run Admit: %s"
                            .formatted(service.path("detail").asString("the admin API refused")));
        String called = name != null ? name : java.net.URI.create(issuer).getAuthority();
        String issuerName = issuer.substring(issuer.lastIndexOf('/') + 1);
        SavedServers.Credential person = new SavedServers.Credential(
                metadata.path("token_endpoint").asString(),
                clientId,
                tokens.path("refresh_token").asString(),
                SavedServers.PERSON);
        common.saved()
                .change(contents -> contents.with(
                        called,
                        new SavedServers.Server(
                                adminApi, service.path("gateway").asString(), issuerName, person, Map.of()),
                        true));
        common.say(Map.of("server", called, "issuer", issuerName), () -> common.out()
                .done("Signed in to %s, to run the issuer %s.".formatted(called, issuerName), "admit client list"));
    }

    private JsonNode byDevice(JsonNode metadata) {
        JsonNode begun = Http.token(common.http()
                .form(
                        metadata.path("device_authorization_endpoint").asString(),
                        "client_id=%s&scope=%s".formatted(Http.encoded(clientId), Http.encoded(SCOPE))));
        common.around()
                .err()
                .printf(
                        "Open  %s%nand type  %s%nor open  %s%nWaiting for your answer there …%n",
                        begun.path("verification_uri").asString(),
                        begun.path("user_code").asString(),
                        begun.path("verification_uri_complete").asString());
        long interval = begun.path("interval").asLong(5);
        long end = System.nanoTime()
                + TimeUnit.SECONDS.toNanos(begun.path("expires_in").asLong(900));
        while (System.nanoTime() < end) {
            try {
                TimeUnit.SECONDS.sleep(interval);
            } catch (InterruptedException stopping) {
                Thread.currentThread().interrupt();
                throw new Failure(Failure.FAULT, "Interrupted.");
            }
            Http.Reply answer = common.http()
                    .form(
                            metadata.path("token_endpoint").asString(),
                            "grant_type=%s&device_code=%s&client_id=%s"
                                    .formatted(
                                            Http.encoded("urn:ietf:params:oauth:grant-type:device_code"),
                                            Http.encoded(
                                                    begun.path("device_code").asString()),
                                            Http.encoded(clientId)));
            String error = Http.json(answer).path("error").asString("");
            if (error.equals("slow_down")) interval += 5;
            if (!error.equals("slow_down") && !error.equals("authorization_pending")) return Http.token(answer);
        }
        throw new Failure(Failure.NOT_REACHABLE, "Nobody answered in time. Begin again.");
    }

    private JsonNode byBrowser(JsonNode metadata) {
        String verifier = random();
        String state = random();
        CompletableFuture<Map<String, String>> received = new CompletableFuture<>();
        HttpServer listener;
        try {
            listener = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        } catch (IOException cause) {
            throw new Failure(
                    Failure.FAULT,
                    "No port on loopback can be listened on (%s). Use --device.".formatted(cause.getMessage()));
        }
        listener.createContext("/back", exchange -> {
            byte[] page =
                    ("<!DOCTYPE html><html lang=en><title>Signed in</title><p>You can close this page, and go back "
                                    + "to the command line.")
                            .getBytes(StandardCharsets.UTF_8);
            exchange.getResponseHeaders().set("Content-Type", "text/html;charset=UTF-8");
            exchange.sendResponseHeaders(200, page.length);
            exchange.getResponseBody().write(page);
            exchange.close();
            received.complete(parameters(exchange.getRequestURI().getRawQuery()));
        });
        listener.start();
        try {
            String callback =
                    "http://127.0.0.1:%d/back".formatted(listener.getAddress().getPort());
            common.around()
                    .err()
                    .printf(
                            "Open this address in a browser on this "
                                    + "machine:%n%s?client_id=%s&redirect_uri=%s&response_type=code&scope=%s&state=%s&"
                                    + "code_challenge=%s&code_challenge_method=S256%n",
                            metadata.path("authorization_endpoint").asString(),
                            Http.encoded(clientId),
                            Http.encoded(callback),
                            Http.encoded(SCOPE),
                            state,
                            challenge(verifier));
            Map<String, String> answer = received.get(MINUTES, TimeUnit.MINUTES);
            // RFC 9207 §2.4: from another issuer it is not an answer to this; and without our state not one of this
            // browser's.
            if (!state.equals(answer.get("state")) || !issuer.equals(answer.get("iss")))
                throw new Failure(Failure.REFUSED, "Another answer came than to this sign-in. Begin again.");
            if (answer.containsKey("error"))
                throw new Failure(
                        Failure.REFUSED,
                        "Refused: %s (%s).".formatted(answer.get("error_description"), answer.get("error")));
            return Http.token(common.http()
                    .form(
                            metadata.path("token_endpoint").asString(),
                            "grant_type=authorization_code&code=%s&redirect_uri=%s&code_verifier=%s&client_id=%s"
                                    .formatted(
                                            Http.encoded(answer.getOrDefault("code", "")),
                                            Http.encoded(callback),
                                            verifier,
                                            Http.encoded(clientId))));
        } catch (TimeoutException late) {
            throw new Failure(
                    Failure.NOT_REACHABLE,
                    "Nobody signed in within %d minutes. Begin again, or use --device.".formatted(MINUTES));
        } catch (InterruptedException | ExecutionException broken) {
            throw new Failure(Failure.FAULT, "Waiting was interrupted.");
        } finally {
            listener.stop(0);
        }
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

    private static String random() {
        byte[] bytes = new byte[32];
        new SecureRandom().nextBytes(bytes);
        return Base64.getUrlEncoder().withoutPadding().encodeToString(bytes);
    }

    private static String challenge(String verifier) {
        try {
            return Base64.getUrlEncoder()
                    .withoutPadding()
                    .encodeToString(
                            MessageDigest.getInstance("SHA-256").digest(verifier.getBytes(StandardCharsets.US_ASCII)));
        } catch (GeneralSecurityException everyJavaHasIt) {
            throw new IllegalStateException(everyJavaHasIt);
        }
    }
}
