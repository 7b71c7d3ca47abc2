package dev.admit.core.authorize;

import static org.assertj.core.api.Assertions.assertThat;

import dev.admit.core.key.MasterKey;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import org.junit.jupiter.api.Test;

class TrialSignInsTest {
    private static final Instant NOW = Instant.parse("2027-01-31T08:00:00Z");
    private static final String CONSOLE = "http://127.0.0.1:9470/console/_/tried";
    private final MasterKey key = new MasterKey(MasterKey.generate());
    private final TrialSignIns trials = at(NOW);

    private TrialSignIns at(Instant now) {
        return new TrialSignIns(key, CONSOLE, Clock.fixed(now, ZoneOffset.UTC));
    }

    private String begun() {
        return trials.seal(new TrialSignIns.UnderWay("harbour", "cl_board", "pe_corin", "the-verifier", "method=GET"));
    }

    @Test
    void theConsolesAddressCountsForThatClientAlone() {
        assertThat(trials.accepts("cl_board", CONSOLE, begun())).isTrue();
        assertThat(trials.accepts("cl_other", CONSOLE, begun())).isFalse();
        assertThat(trials.accepts("cl_board", CONSOLE + "/", begun())).isFalse();
        assertThat(trials.accepts("cl_board", "https://evil.example/", begun())).isFalse();
        assertThat(trials.accepts("cl_board", CONSOLE, "made-up")).isFalse();
        assertThat(trials.accepts("cl_board", CONSOLE, "")).isFalse();
    }

    @Test
    void itIsGivenUpAfterAWhile() {
        String state = begun();
        assertThat(at(NOW.plus(Duration.ofMinutes(14))).open(state)).isPresent();
        assertThat(at(NOW.plus(Duration.ofMinutes(15))).open(state)).isEmpty();
    }

    @Test
    void itTellsNobodyTheVerifier() {
        assertThat(begun()).doesNotContain("verifier");
        assertThat(trials.open(begun()).orElseThrow().toString()).doesNotContain("the-verifier");
        assertThat(begun().length()).as("as state may be").isLessThan(ReadRequest.LONGEST_PASSED_BACK);
    }
}
