package dev.admit.server.admin;

import dev.admit.core.change.Fields;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.format.DateTimeParseException;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Component;

/** Times as a call gives them: a time in UTC, or a length of time from now or ago. */
@Component
class Times {
    private static final Duration LONGEST = Duration.ofDays(3660);

    private final Clock clock;

    Times(Clock clock) {
        this.clock = clock;
    }

    /**
     * @param text such as {@code 2027-01-31T00:00:00Z}, or {@code 90d} from now; null or blank for none.
     * @throws Answers.Refused when it is neither
     */
    Optional<Instant> ahead(String pointer, @Nullable String text) {
        return read(pointer, text, 1);
    }

    /** As {@link #ahead}, but a length is of time ago. */
    Optional<Instant> ago(String pointer, String text) {
        return read(pointer, text, -1);
    }

    private Optional<Instant> read(String pointer, @Nullable String text, int direction) {
        if (text == null || text.isBlank()) return Optional.empty();
        try {
            return Optional.of(Instant.parse(text.strip()));
        } catch (DateTimeParseException notATime) {
            Fields fields = new Fields();
            Optional<Duration> length = fields.duration(pointer, text, Duration.ZERO, LONGEST);
            return Optional.of(clock.instant()
                    .plus(length.orElseThrow(() -> new Answers.Refused(Answers.invalid(fields.faults())))
                            .multipliedBy(direction)));
        }
    }
}
