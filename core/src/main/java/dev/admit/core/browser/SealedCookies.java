package dev.admit.core.browser;

import com.nimbusds.jose.util.JSONObjectUtils;
import dev.admit.core.key.MasterKey;
import dev.admit.core.key.SigningFault;
import java.nio.charset.StandardCharsets;
import java.text.ParseException;
import java.time.Instant;
import java.util.Base64;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;

/** Seals what a browser keeps for the gateway, so that it can be neither read nor made there. */
final class SealedCookies {
    private static final String SESSION = "gateway session";
    private static final String SIGN_IN = "gateway sign-in";
    private static final int LONGEST = 8_000;
    private final MasterKey masterKey;

    SealedCookies(MasterKey masterKey) {
        this.masterKey = masterKey;
    }

    /** A sign-in that is under way. @param back where the browser was going, @param redirectUri as it was asked with, @param endsAt when it is given up */
    record UnderWay(String state, String verifier, String clientId, String apiId, String back, String redirectUri, Instant endsAt) {
        @Override public String toString() {
            return "UnderWay[" + clientId + "]";
        }
    }

    String seal(BrowserSession it) {
        Map<String, Object> json = new LinkedHashMap<>();
        json.put("c", it.clientId());
        json.put("a", it.apiId());
        json.put("t", it.accessToken());
        json.put("e", it.expiresAt().getEpochSecond());
        it.refreshToken().ifPresent(token -> json.put("r", token));
        json.put("s", it.signedInAt().getEpochSecond());
        return seal(json, SESSION);
    }

    Optional<BrowserSession> session(String cookie) {
        return open(cookie, SESSION).map(json -> new BrowserSession(text(json, "c"), text(json, "a"), text(json, "t"), time(json, "e"), Optional.ofNullable((String) json.get("r")), time(json, "s")));
    }

    String seal(UnderWay it) {
        return seal(Map.of("n", it.state(), "v", it.verifier(), "c", it.clientId(), "a", it.apiId(), "b", it.back(), "u", it.redirectUri(), "e", it.endsAt().getEpochSecond()), SIGN_IN);
    }

    Optional<UnderWay> underWay(String cookie) {
        return open(cookie, SIGN_IN).map(json -> new UnderWay(text(json, "n"), text(json, "v"), text(json, "c"), text(json, "a"), text(json, "b"), text(json, "u"), time(json, "e")));
    }

    private String seal(Map<String, Object> json, String name) {
        return Base64.getUrlEncoder().withoutPadding().encodeToString(masterKey.seal(JSONObjectUtils.toJSONString(json).getBytes(StandardCharsets.UTF_8), name));
    }

    /** Empty for whatever this key did not seal under this name. */
    private Optional<Map<String, Object>> open(String cookie, String name) {
        if (cookie.length() > LONGEST) return Optional.empty();
        try {
            byte[] sealed = Base64.getUrlDecoder().decode(cookie);
            return sealed.length < 32 ? Optional.empty() : Optional.of(JSONObjectUtils.parse(new String(masterKey.open(sealed, name), StandardCharsets.UTF_8)));
        } catch (IllegalArgumentException | SigningFault | ParseException notOurs) {
            return Optional.empty(); // of another service, changed, or made up: nobody's session
        }
    }

    private static String text(Map<String, Object> json, String name) {
        return (String) json.get(name);
    }

    private static Instant time(Map<String, Object> json, String name) {
        return Instant.ofEpochSecond(((Number) json.get(name)).longValue());
    }
}
