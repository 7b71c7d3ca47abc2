package dev.admit.server.console;

import com.nimbusds.jwt.JWTParser;
import dev.admit.core.access.AdminApi;
import dev.admit.core.browser.SignInAtGate;
import dev.admit.core.change.Known;
import dev.admit.core.change.RandomBits;
import dev.admit.core.configuration.CompiledIssuer;
import dev.admit.core.configuration.LiveConfiguration;
import dev.admit.core.key.MasterKey;
import dev.admit.core.key.SealedJson;
import dev.admit.core.registry.Client;
import dev.admit.server.PublicOrigin;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.text.ParseException;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Base64;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import org.springframework.http.ResponseCookie;
import org.springframework.stereotype.Controller;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestParam;

/**
 * Signs people in to the console as any client does: at their issuer, with code, PKCE and state, and back (RFC 6749
 * §4.1, RFC 7636, RFC 9207).
 */
@Controller
class ConsoleSignIn {
    private static final Duration PATIENCE = Duration.ofMinutes(15);
    private static final int LONGEST_COOKIE = 4_000;

    private final LiveConfiguration configuration;
    private final ConsoleClients clients;
    private final ConsoleSessions sessions;
    private final SignInAtGate.Issuers issuers;
    private final PublicOrigin origin;
    private final Clock clock;
    private final SealedJson underWay;

    /**
     * Lies in the browser that asked, sealed: so an answer counts there alone, and nothing is kept of the one who never
     * comes back.
     */
    private record UnderWay(String issuer, String state, String verifier, String to) {
        @Override
        public String toString() {
            return "UnderWay[" + issuer + "]";
        }
    }

    ConsoleSignIn(
            LiveConfiguration configuration,
            ConsoleClients clients,
            ConsoleSessions sessions,
            SignInAtGate.Issuers issuers,
            PublicOrigin origin,
            MasterKey masterKey,
            Clock clock) {
        this.configuration = configuration;
        this.clients = clients;
        this.sessions = sessions;
        this.issuers = issuers;
        this.origin = origin;
        this.underWay = new SealedJson(masterKey, "console sign-in", LONGEST_COOKIE);
        this.clock = clock;
    }

    /**
     * @param issuer whose person it is
     * @param to the page of the console that they wanted
     */
    @GetMapping(ConsoleAddresses.SIGN_IN)
    void begin(
            @RequestParam(defaultValue = "") String issuer,
            @RequestParam(defaultValue = "/") String to,
            HttpServletResponse response)
            throws IOException {
        Optional<CompiledIssuer> its = configuration.get().issuer(issuer.strip());
        if (its.isEmpty()) {
            back(response, "/?problem=issuer&issuer=" + encoded(issuer.length() > 60 ? "" : issuer));
            return;
        }
        Client client = clients.of(its.get().issuer());
        String state = RandomBits.text(32);
        String verifier = RandomBits.text(32);
        String sealed = underWay.seal(Map.of(
                "i",
                its.get().issuer().name(),
                "n",
                state,
                "v",
                verifier,
                "t",
                isWithin(to) ? to : "/",
                "e",
                clock.instant().plus(PATIENCE).getEpochSecond()));
        set(response, sealed, PATIENCE.toSeconds());
        Map<String, String> query = new LinkedHashMap<>();
        query.put("response_type", "code");
        query.put("client_id", client.id());
        query.put("redirect_uri", clients.redirectUri());
        query.put("scope", "openid " + AdminApi.RUN);
        query.put("state", state);
        query.put("code_challenge", challenge(verifier));
        query.put("code_challenge_method", "S256");
        redirect(response, its.get().url() + "/authorize?" + joined(query));
    }

    @GetMapping(ConsoleAddresses.SIGNED_IN)
    void finish(
            @RequestParam(defaultValue = "") String state,
            @RequestParam(defaultValue = "") String code,
            @RequestParam(defaultValue = "") String iss,
            @RequestParam(defaultValue = "") String error,
            HttpServletRequest request,
            HttpServletResponse response)
            throws IOException {
        set(response, "", 0);
        Optional<UnderWay> begun = begun(request).filter(it -> it.state().equals(state));
        Optional<CompiledIssuer> issuer =
                begun.flatMap(it -> configuration.get().issuer(it.issuer()));
        boolean ours = issuer.isPresent() && iss.equals(issuer.get().url());
        if (!ours) {
            back(response, "/?problem=" + (error.isEmpty() ? "lost" : "declined"));
            return;
        }
        UnderWay it = begun.orElseThrow();
        if (!error.isEmpty()) {
            back(response, "/?problem=declined&issuer=" + it.issuer());
            return;
        }
        Client client = clients.of(issuer.get().issuer());
        Map<String, String> form = Map.of(
                "grant_type",
                "authorization_code",
                "code",
                code,
                "redirect_uri",
                clients.redirectUri(),
                "code_verifier",
                it.verifier());
        Optional<SignInAtGate.Tokens> tokens = issuers.redeem(issuer.get(), client.id(), form, request.getRemoteAddr());
        Optional<String> person = tokens.flatMap(ConsoleSignIn::subject);
        if (person.isEmpty()) {
            back(response, "/?problem=lost&issuer=" + it.issuer());
            return;
        }
        Instant now = clock.instant();
        sessions.begin(
                new ConsoleSession(
                        it.issuer(),
                        client.id(),
                        person.get(),
                        RandomBits.text(32),
                        new ConsoleSession.Tokens(
                                tokens.get().accessToken(),
                                now.plusSeconds(tokens.get().lifetime()),
                                tokens.get().refreshToken())),
                response);
        back(response, it.to());
    }

    private void set(HttpServletResponse response, String text, long seconds) {
        response.addHeader(
                "Set-Cookie",
                ResponseCookie.from(cookieName(), text)
                        .path(origin.secure() ? "/" : ConsoleAddresses.OWN)
                        .maxAge(seconds)
                        .httpOnly(true)
                        .sameSite("Lax")
                        .secure(origin.secure())
                        .build()
                        .toString());
    }

    private Optional<UnderWay> begun(HttpServletRequest request) {
        return ConsoleSessions.cookieOf(request, cookieName())
                .flatMap(underWay::open)
                .filter(it -> clock.instant().isBefore(Instant.ofEpochSecond(Known.number(it, "e"))))
                .map(it -> new UnderWay(
                        Known.text(it, "i"), Known.text(it, "n"), Known.text(it, "v"), Known.text(it, "t")));
    }

    /** It came from within: what it says needs no proof. */
    private static Optional<String> subject(SignInAtGate.Tokens tokens) {
        try {
            return Optional.ofNullable(
                    JWTParser.parse(tokens.accessToken()).getJWTClaimsSet().getSubject());
        } catch (ParseException opaque) {
            return Optional.empty();
        }
    }

    private String cookieName() {
        return origin.secure() ? "__Host-admit_console_way" : "admit_console_way";
    }

    /** Only pages of the console are gone to: never another host, whatever a link says. */
    static boolean isWithin(String to) {
        return to.startsWith("/")
                && !to.startsWith("//")
                && to.length() < 2_000
                && to.chars().allMatch(c -> c > 0x20 && c < 0x7f && c != '\\');
    }

    static void back(HttpServletResponse response, String to) {
        redirect(response, ConsoleAddresses.CONSOLE + to);
    }

    static void redirect(HttpServletResponse response, String to) {
        response.setStatus(303); // RFC 9700 §4.12
        response.setHeader("Location", to);
        response.setHeader("Cache-Control", "no-store");
        response.setHeader("Referrer-Policy", "no-referrer");
    }

    static String joined(Map<String, String> query) {
        return String.join(
                "&",
                query.entrySet().stream()
                        .map(it -> it.getKey() + "=" + encoded(it.getValue()))
                        .toList());
    }

    static String encoded(String text) {
        return URLEncoder.encode(text, StandardCharsets.UTF_8);
    }

    /** RFC 7636 §4.2, S256. */
    static String challenge(String verifier) {
        try {
            return Base64.getUrlEncoder()
                    .withoutPadding()
                    .encodeToString(
                            MessageDigest.getInstance("SHA-256").digest(verifier.getBytes(StandardCharsets.US_ASCII)));
        } catch (NoSuchAlgorithmException everyJavaHasIt) {
            throw new IllegalStateException(everyJavaHasIt);
        }
    }
}
