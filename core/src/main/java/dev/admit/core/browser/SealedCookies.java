package dev.admit.core.browser;

import dev.admit.core.change.Known;
import dev.admit.core.key.MasterKey;
import dev.admit.core.key.SealedJson;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;

/** Seals what a browser keeps for the gateway, so that it can be neither read nor made there. */
final class SealedCookies {
    private static final int LONGEST = 8_000;
    private final SealedJson sessions;
    private final SealedJson signIns;

    SealedCookies(MasterKey masterKey) {
        this.sessions = new SealedJson(masterKey, "gateway session", LONGEST);
        this.signIns = new SealedJson(masterKey, "gateway sign-in", LONGEST);
    }

    /**
     * A sign-in that is under way.
     *
     * @param back where the browser was going
     * @param redirectUri as it was asked with
     * @param endsAt when it is given up
     */
    record UnderWay(
            String state,
            String verifier,
            String clientId,
            String apiId,
            String back,
            String redirectUri,
            Instant endsAt) {
        @Override
        public String toString() {
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
        return sessions.seal(json);
    }

    Optional<BrowserSession> session(String cookie) {
        return sessions.open(cookie)
                .map(json -> new BrowserSession(
                        Known.text(json, "c"),
                        Known.text(json, "a"),
                        Known.text(json, "t"),
                        time(json, "e"),
                        Optional.ofNullable((String) json.get("r")),
                        time(json, "s")));
    }

    String seal(UnderWay it) {
        return signIns.seal(Map.of(
                "n",
                it.state(),
                "v",
                it.verifier(),
                "c",
                it.clientId(),
                "a",
                it.apiId(),
                "b",
                it.back(),
                "u",
                it.redirectUri(),
                "e",
                it.endsAt().getEpochSecond()));
    }

    Optional<UnderWay> underWay(String cookie) {
        return signIns.open(cookie)
                .map(json -> new UnderWay(
                        Known.text(json, "n"),
                        Known.text(json, "v"),
                        Known.text(json, "c"),
                        Known.text(json, "a"),
                        Known.text(json, "b"),
                        Known.text(json, "u"),
                        time(json, "e")));
    }

    private static Instant time(Map<String, Object> json, String name) {
        return Instant.ofEpochSecond(Known.number(json, name));
    }
}
