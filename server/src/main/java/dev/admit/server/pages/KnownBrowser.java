package dev.admit.server.pages;

import dev.admit.core.change.Ids;
import dev.admit.core.configuration.CompiledIssuer;
import dev.admit.core.key.MasterKey;
import dev.admit.core.key.SealedJson;
import dev.admit.core.registry.SecretHash;
import jakarta.servlet.http.Cookie;
import jakarta.servlet.http.HttpServletRequest;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HexFormat;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import org.springframework.http.ResponseCookie;
import org.springframework.stereotype.Component;

/**
 * Which accounts a browser has signed in to before: a sealed cookie that outlives the sign-in. It opens nothing; it
 * lets the password of such an account be looked at when strangers have spent the account's tries.
 */
@Component
class KnownBrowser {
    private static final Duration LIFE = Duration.ofDays(400);
    private static final int LONGEST = 1_500;
    private static final int MOST_ACCOUNTS = 5;

    private final SealedJson sealed;

    KnownBrowser(MasterKey masterKey) {
        this.sealed = new SealedJson(masterKey, "known browser", LONGEST);
    }

    private record Known(String id, List<String> accounts) {}

    /**
     * The browser's id, where it has signed in to the account before.
     *
     * @param email as it was typed
     */
    Optional<String> of(CompiledIssuer issuer, HttpServletRequest request, String email) {
        return read(issuer, request)
                .filter(it -> it.accounts().contains(account(issuer, email)))
                .map(Known::id);
    }

    /** What the browser has from now on, as Set-Cookie. */
    String knowing(CompiledIssuer issuer, HttpServletRequest request, String email) {
        Optional<Known> before = read(issuer, request);
        List<String> accounts = new ArrayList<>(List.of(account(issuer, email)));
        before.ifPresent(it -> it.accounts().stream()
                .filter(one -> !accounts.contains(one))
                .limit(MOST_ACCOUNTS - 1L)
                .forEach(accounts::add));
        boolean secure = issuer.url().startsWith("https:");
        String value =
                sealed.seal(Map.of("id", before.map(Known::id).orElseGet(() -> Ids.random("")), "accounts", accounts));
        return ResponseCookie.from(name(issuer), value)
                .path(secure ? "/" : "/" + issuer.issuer().name())
                .maxAge(LIFE)
                .httpOnly(true)
                .sameSite("Lax")
                .secure(secure)
                .build()
                .toString();
    }

    private Optional<Known> read(CompiledIssuer issuer, HttpServletRequest request) {
        Cookie[] all = request.getCookies() == null ? new Cookie[0] : request.getCookies();
        return Arrays.stream(all)
                .filter(it -> it.getName().equals(name(issuer)))
                .flatMap(it -> sealed.open(it.getValue()).stream())
                .findFirst()
                .map(it -> new Known(
                        String.valueOf(it.get("id")),
                        it.get("accounts") instanceof List<?> some
                                ? some.stream().map(String::valueOf).toList()
                                : List.of()));
    }

    private static String account(CompiledIssuer issuer, String email) {
        return HexFormat.of()
                .formatHex(
                        SecretHash.of(issuer.url() + " " + email.strip().toLowerCase(Locale.ROOT))
                                .bytes(),
                        0,
                        8);
    }

    private static String name(CompiledIssuer issuer) {
        return (issuer.url().startsWith("https:") ? "__Host-" : "") + "admit_known_"
                + issuer.issuer().name();
    }
}
