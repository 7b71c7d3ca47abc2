package dev.admit.core.browser;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import dev.admit.core.change.RandomBits;
import dev.admit.core.clientauth.KnownClient;
import dev.admit.core.clientauth.KnownClients;
import dev.admit.core.configuration.CompiledIssuer;
import dev.admit.core.configuration.GuardedRoute;
import dev.admit.core.decision.Command;
import dev.admit.core.key.MasterKey;
import dev.admit.core.registry.Scope;
import dev.admit.core.registry.SecretHash;
import dev.admit.core.route.Route;
import dev.admit.core.route.Who;
import java.net.URI;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Base64;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionStage;
import java.util.concurrent.Executor;
import org.jspecify.annotations.Nullable;

/**
 * Signs browsers in for routes that want it: to the issuer with code and PKCE (RFC 6749 §4.1, RFC 7636), back to the
 * same address, a session in a sealed cookie, refreshed when its token is nearly over, and ended again. The gateway
 * acts as the client that the route names.
 */
public final class SignInAtGate {
    /** Where the issuer sends browsers back to, at whichever host they came to. */
    public static final String BACK = "/_admit/signed-in";

    private static final Duration PATIENCE = Duration.ofMinutes(15);

    /**
     * What an issuer gave.
     *
     * @param lifetime of the access token, in seconds
     */
    public record Tokens(String accessToken, long lifetime, Optional<String> refreshToken) {
        @Override
        public String toString() {
            return "Tokens[hidden]";
        }
    }

    /**
     * The issuer's token endpoint from within, where the gateway needs no credential to be believed that it is the
     * gateway.
     */
    public interface Issuers {
        /**
         * @param form of RFC 6749 §4.1.3 or §6.
         * @return empty when it refused; its decision says why
         */
        Optional<Tokens> redeem(CompiledIssuer issuer, String clientId, Map<String, String> form, String from);

        /**
         * Ends everything that one authorization led to.
         *
         * @param refreshToken empty where there is none; then its access token alone ends
         */
        void end(
                CompiledIssuer issuer, String clientId, String accessToken, Optional<String> refreshToken, String from);
    }

    private final SealedCookies cookies;
    private final KnownClients clients;
    private final Issuers issuers;
    private final Executor elsewhere;
    /** A page's many requests come at once when the token is over: one of them refreshes, for all. */
    private final Cache<SecretHash, CompletableFuture<Optional<BrowserSession>>> renewals = Caffeine.newBuilder()
            .maximumSize(100_000)
            .expireAfterWrite(Duration.ofMinutes(1))
            .build();

    /** @param elsewhere where a renewal may take its time */
    public SignInAtGate(MasterKey masterKey, KnownClients clients, Issuers issuers, Executor elsewhere) {
        this.cookies = new SealedCookies(masterKey);
        this.clients = clients;
        this.issuers = issuers;
        this.elsewhere = elsewhere;
    }

    /**
     * A client's and API's own, so that two can be signed in to beside each other.
     *
     * @param secure whether it came by https, where a browser can be held to more
     */
    public static String sessionCookie(String clientId, String apiId, boolean secure) {
        return (secure ? "__Host-" : "") + "admit_session_"
                + HexFormat.of().formatHex(sha256(clientId + " " + apiId), 0, 6);
    }

    public static String signInCookie(boolean secure) {
        return (secure ? "__Host-" : "") + "admit_sign_in";
    }

    public static boolean isSessionCookie(String name) {
        return name.startsWith("admit_session_") || name.startsWith("__Host-admit_session_");
    }

    /** What a browser's session comes to. */
    public sealed interface Standing {
        /** @param renewed the cookie's new value, where it was renewed */
        record Good(BrowserSession session, Optional<String> renewed) implements Standing {}

        /** It is being renewed; ask again then. */
        record Renewing(CompletionStage<?> stage) implements Standing {}

        /** There is none, or it is over. */
        record None() implements Standing {}
    }

    /** @param cookie its value; null for none */
    public Standing standing(GuardedRoute route, @Nullable String cookie, Instant now, String from) {
        Optional<BrowserSession> session = cookie == null
                ? Optional.empty()
                : cookies.session(cookie)
                        .filter(it -> it.clientId().equals(clientOf(route))
                                && it.apiId().equals(route.api().orElseThrow().id()));
        if (session.isEmpty()) return new Standing.None();
        if (!session.get().isOver(now)) return new Standing.Good(session.get(), Optional.empty());
        if (session.get().refreshToken().isEmpty()) return new Standing.None();
        SecretHash old = SecretHash.of(session.get().refreshToken().get());
        CompletableFuture<Optional<BrowserSession>> renewal = renewals.get(
                old,
                fresh -> CompletableFuture.supplyAsync(
                        () -> renewed(route.issuer(), session.get(), now, from), elsewhere));
        if (!renewal.isDone()) return new Standing.Renewing(renewal);
        Optional<BrowserSession> after =
                renewal.exceptionally(broken -> Optional.empty()).join().filter(it -> !it.isOver(now));
        return after.<Standing>map(it -> new Standing.Good(it, Optional.of(cookies.seal(it))))
                .orElseGet(Standing.None::new);
    }

    private Optional<BrowserSession> renewed(CompiledIssuer issuer, BrowserSession old, Instant now, String from) {
        Map<String, String> form = Map.of(
                "grant_type",
                "refresh_token",
                "refresh_token",
                old.refreshToken().orElseThrow());
        return issuers.redeem(issuer, old.clientId(), form, from)
                .map(it -> new BrowserSession(
                        old.clientId(),
                        old.apiId(),
                        it.accessToken(),
                        now.plusSeconds(it.lifetime()),
                        it.refreshToken().or(old::refreshToken),
                        old.signedInAt()));
    }

    private static String clientOf(GuardedRoute route) {
        return ((Route.Guard.Token) route.route().guard()).who().signIn().orElseThrow();
    }

    /** Where to send a browser, and the value of the cookie to go with it; or why it cannot be sent. */
    public sealed interface Beginning {
        record Begun(String location, String cookie) implements Beginning {}

        record Impossible(String sentence) implements Beginning {}
    }

    /**
     * @param origin of the request, {@code https://host}
     * @param back path and query that the browser was going to
     */
    public Beginning begin(GuardedRoute route, String origin, String back, Instant now) {
        Optional<KnownClient> client =
                clients.find(clientOf(route)).filter(it -> it.client().enabled());
        if (client.isEmpty())
            return new Beginning.Impossible("The client that signs people in here is gone, or switched off.");
        String redirect = origin + BACK;
        // An address that is not registered leads nowhere; so neither a forged Host header nor another host's route can
        // have a code.
        if (!client.get().client().addresses().redirects().contains(redirect)) {
            return new Beginning.Impossible("%s is no redirect URI of %s. Register it with: %s"
                    .formatted(
                            redirect,
                            client.get().client().name(),
                            Command.at(
                                    route.issuer().issuer().name(),
                                    Command.of(
                                            "client",
                                            "change",
                                            client.get().client().name(),
                                            "--add-redirect-uri",
                                            redirect))));
        }
        SealedCookies.UnderWay underWay = new SealedCookies.UnderWay(
                RandomBits.text(32),
                RandomBits.text(32),
                client.get().client().id(),
                route.api().orElseThrow().id(),
                back,
                redirect,
                now.plus(PATIENCE));
        Map<String, String> query = new LinkedHashMap<>();
        query.put("response_type", "code");
        query.put("client_id", underWay.clientId());
        query.put("redirect_uri", redirect);
        query.put("scope", String.join(" ", scopes(route, client.get())));
        query.put("resource", route.api().get().audience());
        query.put("state", underWay.state());
        query.put(
                "code_challenge", Base64.getUrlEncoder().withoutPadding().encodeToString(sha256(underWay.verifier())));
        query.put("code_challenge_method", "S256");
        Who who = ((Route.Guard.Token) route.route().guard()).who();
        who.acr().ifPresent(it -> query.put("acr_values", it));
        who.maxAge().ifPresent(it -> query.put("max_age", String.valueOf(it.toSeconds())));
        String location = route.issuer().url() + "/authorize?"
                + String.join(
                        "&",
                        query.entrySet().stream()
                                .map(it -> it.getKey() + "=" + URLEncoder.encode(it.getValue(), StandardCharsets.UTF_8))
                                .toList());
        return new Beginning.Begun(location, cookies.seal(underWay));
    }

    /**
     * Who a person is, and all of the API's scopes that the client requests, so that one session does for all its
     * routes.
     */
    private static List<String> scopes(GuardedRoute route, KnownClient client) {
        List<String> scopes = new ArrayList<>();
        for (String identity : List.of("openid", "offline_access"))
            if (client.client().openidScopes().contains(identity)) scopes.add(identity);
        client.approvals().forEach(asked -> {
            Scope scope = route.issuer().scopesByName().get(asked.scopeName());
            if (scope != null
                    && scope.apiId().equals(route.api().orElseThrow().id())
                    && scope.status() != Scope.Status.DRAFT) scopes.add(scope.name());
        });
        return scopes;
    }

    /** What coming back from the issuer came to. */
    public sealed interface Ending {
        /**
         * @param back where the browser was going
         * @param cookie the value of the session cookie
         */
        record SignedIn(String back, String clientId, String apiId, String cookie) implements Ending {}

        /** @param status of the answer */
        record Refused(int status, String sentence) implements Ending {}
    }

    /**
     * @param query of the request that came back
     * @param cookie of the sign-in under way; null for none
     * @param origin of the request
     * @param issuer by the id of an API
     */
    public Ending finish(
            Map<String, String> query,
            @Nullable String cookie,
            String origin,
            java.util.function.Function<String, Optional<CompiledIssuer>> issuer,
            Instant now,
            String from) {
        Optional<SealedCookies.UnderWay> underWay = cookie == null
                ? Optional.empty()
                : cookies.underWay(cookie)
                        .filter(it ->
                                now.isBefore(it.endsAt()) && it.redirectUri().equals(origin + BACK));
        // RFC 6749 §10.12: the answer must be to what this very browser asked.
        if (underWay.isEmpty()
                || !MessageDigest.isEqual(
                        underWay.get().state().getBytes(StandardCharsets.US_ASCII),
                        query.getOrDefault("state", "").getBytes(StandardCharsets.UTF_8))) {
            return new Ending.Refused(
                    400, "This sign-in was not begun in this browser, or too long ago. Open the page again.");
        }
        Optional<CompiledIssuer> its = issuer.apply(underWay.get().apiId());
        if (its.isEmpty()) return new Ending.Refused(404, "What this sign-in was for is gone.");
        if (!its.get().url().equals(query.get("iss")))
            return new Ending.Refused(400, "The answer came from another issuer."); // RFC 9207 §2.4
        if (query.containsKey("error"))
            return new Ending.Refused(
                    403,
                    query.get("error").equals("access_denied")
                            ? "It was declined. Open the page again to be asked again."
                            : "The issuer did not sign you in. Open the page again.");
        Map<String, String> form = Map.of(
                "grant_type",
                "authorization_code",
                "code",
                query.getOrDefault("code", ""),
                "redirect_uri",
                underWay.get().redirectUri(),
                "code_verifier",
                underWay.get().verifier());
        Optional<Tokens> tokens = issuers.redeem(its.get(), underWay.get().clientId(), form, from);
        if (tokens.isEmpty()) return new Ending.Refused(403, "The sign-in could not be finished. Open the page again.");
        BrowserSession session = new BrowserSession(
                underWay.get().clientId(),
                underWay.get().apiId(),
                tokens.get().accessToken(),
                now.plusSeconds(tokens.get().lifetime()),
                tokens.get().refreshToken(),
                now);
        return new Ending.SignedIn(underWay.get().back(), session.clientId(), session.apiId(), cookies.seal(session));
    }

    /**
     * Ends what a cookie stands for.
     *
     * @return where the browser can be signed out of the issuer as well; empty where the cookie is none of ours
     */
    public Optional<URI> signOut(
            String cookie, java.util.function.Function<String, Optional<CompiledIssuer>> issuer, String from) {
        Optional<BrowserSession> session = cookies.session(cookie);
        Optional<CompiledIssuer> its = session.flatMap(it -> issuer.apply(it.apiId()));
        if (its.isEmpty()) return Optional.empty();
        issuers.end(
                its.get(),
                session.get().clientId(),
                session.get().accessToken(),
                session.get().refreshToken(),
                from);
        return Optional.of(URI.create(
                its.get().url() + "/end-session?client_id=" + session.get().clientId()));
    }

    private static byte[] sha256(String text) {
        try {
            return MessageDigest.getInstance("SHA-256").digest(text.getBytes(StandardCharsets.UTF_8));
        } catch (NoSuchAlgorithmException everyJavaHasIt) {
            throw new IllegalStateException(everyJavaHasIt);
        }
    }
}
