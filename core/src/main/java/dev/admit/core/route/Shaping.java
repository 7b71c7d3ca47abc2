package dev.admit.core.route;

import java.time.Duration;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/**
 * What is done to a request on its way to the upstream, and to the answer on its way back. Texts of headers are
 * Mustache templates.
 *
 * @param path what the path becomes, with the names of the pattern: {@code /v2/{gauge}/**}; empty for as it came
 * @param setOnRequest header → text
 * @param renamedOnRequest header as it came → name that the upstream gets
 * @param removedOnRequest headers
 * @param setOnAnswer header → text
 * @param removedOnAnswer headers
 * @param connect how long it may take until a connection to the upstream stands
 * @param silence how long the upstream may say nothing
 * @param whole how long the whole exchange may take
 * @param credential id of what the gateway itself presents to the upstream
 * @param refusals what a refusal says: by its reason, by its status, or {@code any}; problem details where none fits
 * @param passage what proves to the upstream that the request came through the gateway
 */
public record Shaping(
        Optional<String> path,
        Map<String, String> setOnRequest,
        Map<String, String> renamedOnRequest,
        List<String> removedOnRequest,
        Map<String, String> setOnAnswer,
        List<String> removedOnAnswer,
        Optional<Duration> connect,
        Optional<Duration> silence,
        Optional<Duration> whole,
        Optional<String> credential,
        Map<String, Text> refusals,
        Passage passage) {
    public static final Shaping NONE = new Shaping(
            Optional.empty(),
            Map.of(),
            Map.of(),
            List.of(),
            Map.of(),
            List.of(),
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            Map.of(),
            Passage.REUSED);

    /**
     * A text in place of problem details. @param body a Mustache template over status, reason, sentence, expected,
     * came, mend, decision, needed and route
     */
    public record Text(String contentType, String body) {}

    /** The signed proof that the upstream gets. */
    public enum Passage {
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
    public Shaping {
        connect = connect == null ? Optional.empty() : connect;
        credential = credential == null ? Optional.empty() : credential;
        refusals = refusals == null ? Map.of() : refusals;
        passage = passage == null ? Passage.REUSED : passage;
    }
}
