package dev.admit.server.pages;

import dev.admit.core.authorize.Authorize;
import dev.admit.core.authorize.RequestParameters;
import dev.admit.core.key.MasterKey;
import dev.admit.core.key.SigningFault;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.Base64;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import tools.jackson.core.JacksonException;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.json.JsonMapper;

/**
 * An authorization request on its way through the pages, or a device that waits. It travels sealed with the forms, so
 * that nothing is kept for the one who never comes back, and several can go on in one browser.
 *
 * @param asked the parameters as they came
 * @param userCode of a device, when it is one that waits
 */
record Flow(Map<String, List<String>> asked, long startedAt, String sessionId, String userCode) {
    private static final JsonMapper JSON = new JsonMapper();
    private static final TypeReference<Map<String, List<String>>> PARAMETERS = new TypeReference<>() {};
    private static final Duration LIFETIME = Duration.ofHours(1);
    /** What is of use later; the rest is not carried along. */
    private static final List<String> KEPT = List.of(
            "client_id",
            "redirect_uri",
            "response_type",
            "response_mode",
            "scope",
            "state",
            "nonce",
            "code_challenge",
            "code_challenge_method",
            "prompt",
            "max_age",
            "login_hint",
            "acr_values",
            "resource",
            "request",
            "request_uri");

    static Flow begun(RequestParameters asked, Instant now) {
        Map<String, List<String>> kept = new LinkedHashMap<>();
        KEPT.forEach(name -> {
            if (asked.values().containsKey(name)) kept.put(name, asked.values().get(name));
        });
        return new Flow(kept, now.toEpochMilli(), "", "");
    }

    static Flow ofDevice(String userCode, Instant now) {
        return new Flow(Map.of(), now.toEpochMilli(), "", userCode);
    }

    Flow with(String chosenSession) {
        return new Flow(asked, startedAt, chosenSession, userCode);
    }

    RequestParameters parameters() {
        return new RequestParameters(asked);
    }

    Authorize.Progress progress() {
        return new Authorize.Progress(
                Instant.ofEpochMilli(startedAt), Optional.of(sessionId).filter(it -> !it.isEmpty()));
    }

    /** Where the way may end. A flow is sealed only after the address was found to be registered. */
    Optional<String> leadsTo() {
        return Optional.ofNullable(asked.get("redirect_uri")).map(List::getFirst);
    }

    Optional<String> clientId() {
        return Optional.ofNullable(asked.get("client_id")).map(List::getFirst);
    }

    String sealed(MasterKey key, String issuer) {
        Map<String, List<String>> all = new LinkedHashMap<>(asked);
        all.put("\u0000", List.of(String.valueOf(startedAt), sessionId, userCode));
        return Base64.getUrlEncoder()
                .withoutPadding()
                .encodeToString(key.seal(JSON.writeValueAsBytes(all), "flow at " + issuer));
    }

    /** Empty when it is none of ours, or too old. */
    static Optional<Flow> open(Optional<String> sealed, MasterKey key, String issuer, Instant now) {
        if (sealed.isEmpty()) return Optional.empty();
        try {
            Map<String, List<String>> all = new LinkedHashMap<>(JSON.readValue(
                    new String(
                            key.open(Base64.getUrlDecoder().decode(sealed.get()), "flow at " + issuer),
                            StandardCharsets.UTF_8),
                    PARAMETERS));
            List<String> own = all.remove("\u0000");
            Flow flow = new Flow(all, Long.parseLong(own.get(0)), own.get(1), own.get(2));
            return now.isBefore(Instant.ofEpochMilli(flow.startedAt).plus(LIFETIME))
                    ? Optional.of(flow)
                    : Optional.empty();
        } catch (SigningFault | IllegalArgumentException | JacksonException none) {
            return Optional.empty();
        }
    }
}
