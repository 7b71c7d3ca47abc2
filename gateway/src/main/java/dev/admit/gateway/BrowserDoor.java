package dev.admit.gateway;

import dev.admit.core.browser.SignInAtGate;
import dev.admit.core.configuration.CompiledIssuer;
import dev.admit.core.configuration.Configuration;
import dev.admit.core.configuration.GuardedRoute;
import dev.admit.core.gate.GateRequest;
import java.net.URI;
import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Supplier;
import org.eclipse.jetty.http.HttpCookie;
import org.eclipse.jetty.http.HttpHeader;
import org.eclipse.jetty.io.Content;
import org.eclipse.jetty.server.Request;
import org.eclipse.jetty.server.Response;
import org.eclipse.jetty.util.Callback;
import org.jspecify.annotations.Nullable;

/** Where browsers are sent to sign in from, come back to, and sign out: the gateway's own paths for people. */
final class BrowserDoor {
    static final String SIGN_OUT = "/_admit/sign-out";
    private static final int LONGEST_COOKIE = 4_000;
    private static final int MINUTES = 15 * 60;

    private final SignInAtGate signIn;
    private final Supplier<Configuration> configuration;
    private final TrustedProxies proxies;
    private final Clock clock;

    BrowserDoor(SignInAtGate signIn, Supplier<Configuration> configuration, TrustedProxies proxies, Clock clock) {
        this.signIn = signIn;
        this.configuration = configuration;
        this.proxies = proxies;
        this.clock = clock;
    }

    /** What a request says of the browser that it comes from. */
    GateRequest.Browser of(Request request) {
        return new GateRequest.Browser() {
            @Override
            public @Nullable String cookie(String name) {
                return Request.getCookies(request).stream()
                        .filter(it -> it.getName().equals(name))
                        .map(HttpCookie::getValue)
                        .findFirst()
                        .orElse(null);
            }

            @Override
            public boolean isSecure() {
                return BrowserDoor.this.isSecure(request);
            }

            @Override
            public boolean comesFromElsewhere() {
                String site = request.getHeaders().get("Sec-Fetch-Site");
                if (site != null) return !Set.of("same-origin", "none").contains(site);
                String origin = request.getHeaders().get(HttpHeader.ORIGIN);
                return origin != null && !origin.equals(origin(request));
            }

            @Override
            public boolean opensAPage() {
                String mode = request.getHeaders().get("Sec-Fetch-Mode");
                String accept = request.getHeaders().get(HttpHeader.ACCEPT);
                boolean reads =
                        request.getMethod().equals("GET") || request.getMethod().equals("HEAD");
                return reads
                        && (mode != null ? mode.equals("navigate") : accept != null && accept.contains("text/html"));
            }
        };
    }

    /** Whether the browser came by https: to this process, or to a proxy that is believed. */
    private boolean isSecure(Request request) {
        return request.isSecure()
                || "https".equalsIgnoreCase(request.getHeaders().get("X-Forwarded-Proto"))
                        && proxies.trusts(Request.getRemoteAddr(request));
    }

    /** Scheme, host and port, as the browser sees them. */
    private String origin(Request request) {
        return (isSecure(request) ? "https" : "http") + "://"
                + Optional.ofNullable(request.getHttpURI().getAuthority()).orElse("");
    }

    /**
     * Sends a browser to its issuer, and back to where it was going.
     *
     * @return why it cannot be sent; empty when it was
     */
    Optional<String> send(GuardedRoute route, Request request, Response response, Callback callback) {
        String back = request.getHttpURI().getPathQuery();
        switch (signIn.begin(
                route,
                origin(request),
                back.length() > 1_500 ? request.getHttpURI().getPath() : back,
                clock.instant())) {
            case SignInAtGate.Beginning.Impossible(String sentence) -> {
                return Optional.of(sentence);
            }
            case SignInAtGate.Beginning.Begun(String location, String cookie) -> {
                set(response, SignInAtGate.signInCookie(isSecure(request)), cookie, MINUTES, isSecure(request));
                redirect(location, response, callback); // RFC 9700 §4.12: 303, which never carries a body on
                return Optional.empty();
            }
        }
    }

    /** The browser comes back. */
    void finish(Request request, String from, Response response, Callback callback) {
        String name = SignInAtGate.signInCookie(isSecure(request));
        String cookie = of(request).cookie(name);
        set(response, name, "", 0, isSecure(request));
        switch (signIn.finish(query(request), cookie, origin(request), this::issuerOf, clock.instant(), from)) {
            case SignInAtGate.Ending.Refused(int status, String sentence) -> tell(status, sentence, response, callback);
            case SignInAtGate.Ending.SignedIn(String back, String clientId, String apiId, String session) -> {
                if (session.length() > LONGEST_COOKIE) {
                    tell(
                            500,
                            "The session does not fit into a cookie. Have the tokens of this API opaque: admit api "
                                    + "minting API --format opaque",
                            response,
                            callback);
                    return;
                }
                set(
                        response,
                        SignInAtGate.sessionCookie(clientId, apiId, isSecure(request)),
                        session,
                        -1,
                        isSecure(request));
                redirect(back, response, callback);
            }
        }
    }

    /** Ends every session of the browser here, and goes on to the issuer, where the person signs out of all else. */
    void signOut(Request request, String from, Response response, Callback callback) {
        if (of(request).comesFromElsewhere()) {
            tell(403, "Sign out from a page of this address.", response, callback);
            return;
        }
        Optional<URI> further = Optional.empty();
        for (HttpCookie cookie : Request.getCookies(request)) {
            if (!SignInAtGate.isSessionCookie(cookie.getName())) continue;
            Optional<URI> its = signIn.signOut(cookie.getValue(), this::issuerOf, from);
            further = further.or(() -> its);
            set(response, cookie.getName(), "", 0, isSecure(request));
        }
        if (further.isPresent()) redirect(further.get().toString(), response, callback);
        else tell(200, "Nobody is signed in here.", response, callback);
    }

    /** Puts a renewed session in the place of the old one. */
    void renew(GuardedRoute route, String clientId, String session, Request request, Response response) {
        set(
                response,
                SignInAtGate.sessionCookie(clientId, route.api().orElseThrow().id(), isSecure(request)),
                session,
                -1,
                isSecure(request));
    }

    private Optional<CompiledIssuer> issuerOf(String apiId) {
        return configuration.get().issuersByName().values().stream()
                .filter(it -> it.apisById().containsKey(apiId))
                .findFirst();
    }

    private static Map<String, String> query(Request request) {
        Map<String, String> query = new HashMap<>();
        String raw = request.getHttpURI().getQuery();
        for (String pair : raw == null ? new String[0] : raw.split("&")) {
            int equals = pair.indexOf('=');
            if (equals > 0) query.putIfAbsent(pair.substring(0, equals), decoded(pair.substring(equals + 1)));
        }
        return query;
    }

    private static String decoded(String text) {
        try {
            return URLDecoder.decode(text, StandardCharsets.UTF_8);
        } catch (IllegalArgumentException none) {
            return "";
        }
    }

    /**
     * Out of reach of scripts and of other sites' requests.
     *
     * @param seconds it lives; -1 as long as the browser, 0 to take it away
     */
    private static void set(Response response, String name, String value, int seconds, boolean secure) {
        Response.addCookie(
                response,
                HttpCookie.build(name, value)
                        .path("/")
                        .maxAge(seconds)
                        .httpOnly(true)
                        .sameSite(HttpCookie.SameSite.LAX)
                        .secure(secure)
                        .build());
    }

    private static void redirect(String location, Response response, Callback callback) {
        response.setStatus(303);
        response.getHeaders().put(HttpHeader.LOCATION, location);
        response.getHeaders().put(HttpHeader.CACHE_CONTROL, "no-store");
        response.getHeaders().put("Referrer-Policy", "no-referrer");
        response.write(true, null, callback);
    }

    private static void tell(int status, String sentence, Response response, Callback callback) {
        response.setStatus(status);
        response.getHeaders().put(HttpHeader.CONTENT_TYPE, "text/plain; charset=utf-8");
        response.getHeaders().put(HttpHeader.CACHE_CONTROL, "no-store");
        Content.Sink.write(response, true, sentence + "\n", callback);
    }
}
