package dev.admit.core.route;

import java.time.Duration;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/**
 * What is done to a request on its way to the upstream, and to the answer on its way back. Texts of headers are Mustache templates.
 *
 * @param path            what the path becomes, with the names of the pattern: {@code /v2/{gauge}/**}; empty for as it came
 * @param setOnRequest    header → text
 * @param renamedOnRequest header as it came → name that the upstream gets
 * @param removedOnRequest headers
 * @param setOnAnswer     header → text
 * @param removedOnAnswer headers
 * @param silence         how long the upstream may say nothing
 * @param whole           how long the whole exchange may take
 * @param passage         what proves to the upstream that the request came through the gateway
 */
public record Shaping(Optional<String> path, Map<String, String> setOnRequest, Map<String, String> renamedOnRequest, List<String> removedOnRequest, Map<String, String> setOnAnswer,
                      List<String> removedOnAnswer, Optional<Duration> silence, Optional<Duration> whole, Passage passage) {
    public static final Shaping NONE = new Shaping(Optional.empty(), Map.of(), Map.of(), List.of(), Map.of(), List.of(), Optional.empty(), Optional.empty(), Passage.REUSED);

    /** The signed proof that the upstream gets. */
    public enum Passage {
        /** The same for the same token and route, up to 30 s. */
        REUSED,
        /** One bound to each single request. */
        EACH_REQUEST,
        NONE;

        @Override public String toString() {
            return name().toLowerCase(Locale.ROOT).replace('_', '-');
        }
    }

    /** What was kept before there were passages has none of its own. */
    public Shaping {
        passage = passage == null ? Passage.REUSED : passage;
    }
}
