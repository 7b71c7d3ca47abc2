package dev.admit.core.route;

import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/**
 * What is done to a request on its way to the upstream, and to the response on its way back. Texts of headers are
 * Mustache templates.
 *
 * @param path what the path becomes, with the names of the pattern: {@code /v2/{gauge}/**}; empty for as it came
 * @param setOnRequest header → text
 * @param renamedOnRequest header as it came → name that the upstream gets
 * @param removedOnRequest headers
 * @param setOnResponse header → text
 * @param removedOnResponse headers
 * @param credential id of what the gateway itself presents to the upstream
 * @param refusals what a refusal says: by its reason, by its status, or {@code any}; problem details where none fits
 * @param proof what proves to the upstream that the request came through the gateway
 */
public record Transform(
        Optional<String> path,
        Map<String, String> setOnRequest,
        Map<String, String> renamedOnRequest,
        List<String> removedOnRequest,
        Map<String, String> setOnResponse,
        List<String> removedOnResponse,
        Optional<String> credential,
        Map<String, Text> refusals,
        Proof proof) {
    public static final Transform NONE = new Transform(
            Optional.empty(),
            Map.of(),
            Map.of(),
            List.of(),
            Map.of(),
            List.of(),
            Optional.empty(),
            Map.of(),
            Proof.REUSED);

    /**
     * A text in place of problem details.
     *
     * @param body a Mustache template over status, reason, sentence, expected, came, fix, decision, needed and route
     */
    public record Text(String contentType, String body) {}

    /** The signed proof that the upstream gets. */
    public enum Proof {
        /** The same for the same token and route, up to 30 s. */
        REUSED,
        /** One bound to each single request. */
        EACH_REQUEST,
        NONE;

        @Override
        public String toString() {
            return name().toLowerCase(Locale.ROOT).replace('_', '-');
        }
    }

    /** What was kept before there were some of these has none of its own. */
    public Transform {
        credential = credential == null ? Optional.empty() : credential;
        refusals = refusals == null ? Map.of() : refusals;
        proof = proof == null ? Proof.REUSED : proof;
    }
}
