package dev.admit.server.pages;

import dev.admit.core.configuration.CompiledIssuer;
import dev.admit.core.key.MasterKey;
import jakarta.servlet.http.Cookie;
import jakarta.servlet.http.HttpServletRequest;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.time.Duration;
import java.util.Arrays;
import java.util.Base64;
import java.util.List;
import java.util.Optional;
import org.springframework.http.ResponseCookie;
import org.springframework.stereotype.Component;

/**
 * The cookie by which the sign-in pages know a browser. It carries a keyed hash, so that nobody can make one up; and
 * with https a name that browsers accept from this very host alone, so that no neighbour on the host or below the
 * domain can plant one (RFC 6265bis §4.1.3).
 */
@Component
class BrowserCookie {
    private static final Duration LIFE = Duration.ofDays(90);
    private static final int TEXT = 43;
    private static final int HASH_BYTES = 16;

    private final MasterKey masterKey;

    BrowserCookie(MasterKey masterKey) {
        this.masterKey = masterKey;
    }

    /**
     * The text that this service gave the browser; empty where it gave none, and where two came, of which one must be
     * planted.
     */
    Optional<String> read(CompiledIssuer issuer, HttpServletRequest request) {
        Cookie[] all = request.getCookies() == null ? new Cookie[0] : request.getCookies();
        List<String> ours = Arrays.stream(all)
                .filter(it -> it.getName().equals(name(issuer)))
                .map(Cookie::getValue)
                .distinct()
                .flatMap(it -> opened(issuer, it).stream())
                .toList();
        return ours.size() == 1 ? Optional.of(ours.getFirst()) : Optional.empty();
    }

    private Optional<String> opened(CompiledIssuer issuer, String value) {
        if (value == null || value.length() < TEXT + 2 || value.charAt(TEXT) != '.') return Optional.empty();
        String text = value.substring(0, TEXT);
        boolean good = MessageDigest.isEqual(
                hash(issuer, text).getBytes(StandardCharsets.US_ASCII),
                value.substring(TEXT + 1).getBytes(StandardCharsets.UTF_8));
        return good ? Optional.of(text) : Optional.empty();
    }

    /**
     * Lax, because people come from the application's own site and have to be known then; a form is protected by its
     * token.
     */
    String give(CompiledIssuer issuer, String text) {
        boolean secure = isSecure(issuer);
        return ResponseCookie.from(name(issuer), text + "." + hash(issuer, text))
                .path(secure ? "/" : "/" + issuer.issuer().name())
                .maxAge(LIFE)
                .httpOnly(true)
                .sameSite("Lax")
                .secure(secure)
                .build()
                .toString();
    }

    /**
     * What a form has to bring along: bound to this service, the browser, and what the person is about to do.
     *
     * @param flow the sign-in under way, as the form carries it; empty for none
     */
    String formToken(CompiledIssuer issuer, String text, String flow) {
        return encoded(masterKey.mac(issuer.url() + "\n" + text + "\n" + flow, "form"));
    }

    private String hash(CompiledIssuer issuer, String text) {
        return encoded(masterKey.mac(issuer.url() + "\n" + text, "browser cookie"));
    }

    private static String encoded(byte[] hash) {
        return Base64.getUrlEncoder().withoutPadding().encodeToString(Arrays.copyOf(hash, HASH_BYTES));
    }

    private static boolean isSecure(CompiledIssuer issuer) {
        return issuer.url().startsWith("https:");
    }

    private static String name(CompiledIssuer issuer) {
        return (isSecure(issuer) ? "__Host-" : "") + "admit-" + issuer.issuer().name();
    }
}
