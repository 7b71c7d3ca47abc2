package dev.admit.server.console;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import dev.admit.core.browser.SignInAtGate;
import dev.admit.core.change.RandomBits;
import dev.admit.core.configuration.LiveConfiguration;
import dev.admit.core.registry.SecretHash;
import dev.admit.server.PublicOrigin;
import jakarta.servlet.http.Cookie;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.springframework.http.ResponseCookie;
import org.springframework.stereotype.Component;

/**
 * Who is signed in to the console. Sessions are in memory: after a restart the one who is still signed in at their
 * issuer is sent there and back without a page. The cookie goes along with requests of the console's own pages alone,
 * and no script can read it.
 */
@Component
class ConsoleSessions {
    private static final Duration IDLE = Duration.ofHours(8);
    private static final int MOST = 10_000;

    private final Cache<SecretHash, ConsoleSession> sessions =
            Caffeine.newBuilder().maximumSize(MOST).expireAfterAccess(IDLE).build();
    private final SignInAtGate.Issuers issuers;
    private final LiveConfiguration configuration;
    private final PublicOrigin origin;
    private final Clock clock;

    ConsoleSessions(SignInAtGate.Issuers issuers, LiveConfiguration configuration, PublicOrigin origin, Clock clock) {
        this.issuers = issuers;
        this.configuration = configuration;
        this.origin = origin;
        this.clock = clock;
    }

    String cookieName() {
        return origin.secure() ? "__Host-admit_console" : "admit_console";
    }

    void begin(ConsoleSession session, HttpServletResponse response) {
        String text = RandomBits.text(32);
        sessions.put(SecretHash.of(text), session);
        set(response, text, -1);
    }

    /**
     * Strict: pages of other sites never send it, and the console's own requests always do.
     *
     * @param seconds that it lives; -1 for as long as the browser does
     */
    private void set(HttpServletResponse response, String text, long seconds) {
        // With https the name holds browsers to this very host, which wants the path to be the whole of it (RFC 6265bis
        // §4.1.3.2).
        String path = origin.secure() ? "/" : ConsoleAddresses.CONSOLE;
        response.addHeader(
                "Set-Cookie",
                ResponseCookie.from(cookieName(), text)
                        .path(path)
                        .maxAge(seconds)
                        .httpOnly(true)
                        .sameSite("Strict")
                        .secure(origin.secure())
                        .build()
                        .toString());
    }

    Optional<ConsoleSession> of(HttpServletRequest request) {
        return ownCookie(request).map(SecretHash::of).map(sessions::getIfPresent);
    }

    static Optional<String> cookieOf(HttpServletRequest request, String name) {
        Cookie[] cookies = request.getCookies();
        return cookies == null
                ? Optional.empty()
                : one(Arrays.stream(cookies)
                        .filter(it -> it.getName().equals(name))
                        .map(Cookie::getValue)
                        .distinct()
                        .toList());
    }

    /** Of two with one name one must be planted, so neither is taken. */
    private static Optional<String> one(List<String> values) {
        return values.size() == 1 ? Optional.of(values.getFirst()) : Optional.empty();
    }

    /** The session's own: 32 random bytes in base64url. */
    private Optional<String> ownCookie(HttpServletRequest request) {
        return cookieOf(request, cookieName()).filter(it -> it.length() == 43);
    }

    /**
     * The access token that stands for the session now; renewed where it is nearly over. Empty when the sign-in has
     * ended.
     */
    Optional<String> accessToken(ConsoleSession session, HttpServletRequest request) {
        Instant now = clock.instant();
        if (!session.tokens().isOver(now)) return Optional.of(session.tokens().accessToken());
        session.renewing().lock();
        try {
            if (session.tokens().isOver(now) && !renew(session, now, request.getRemoteAddr())) {
                forget(request);
                return Optional.empty();
            }
            return Optional.of(session.tokens().accessToken());
        } finally {
            session.renewing().unlock();
        }
    }

    private boolean renew(ConsoleSession session, Instant now, String from) {
        Optional<String> refresh = session.tokens().refreshToken();
        var issuer = configuration.get().issuer(session.issuer());
        if (refresh.isEmpty() || issuer.isEmpty()) return false;
        Map<String, String> form = Map.of("grant_type", "refresh_token", "refresh_token", refresh.get());
        Optional<SignInAtGate.Tokens> fresh = issuers.redeem(issuer.get(), session.clientId(), form, from);
        fresh.ifPresent(it -> session.renewed(new ConsoleSession.Tokens(
                it.accessToken(),
                now.plusSeconds(it.lifetime()),
                it.refreshToken().or(() -> refresh))));
        return fresh.isPresent();
    }

    private void forget(HttpServletRequest request) {
        ownCookie(request).map(SecretHash::of).ifPresent(sessions::invalidate);
    }

    /**
     * Ends the session and everything that its sign-in led to.
     *
     * @return where the person signs out of all else
     */
    Optional<String> end(ConsoleSession session, HttpServletRequest request, HttpServletResponse response) {
        forget(request);
        set(response, "", 0);
        return configuration.get().issuer(session.issuer()).map(issuer -> {
            issuers.end(
                    issuer,
                    session.clientId(),
                    session.tokens().accessToken(),
                    session.tokens().refreshToken(),
                    request.getRemoteAddr());
            return issuer.url() + "/end-session?client_id=" + session.clientId();
        });
    }
}
