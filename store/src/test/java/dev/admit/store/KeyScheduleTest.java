package dev.admit.store;

import static dev.admit.store.Harbour.CORIN;
import static dev.admit.store.Harbour.made;
import static org.assertj.core.api.Assertions.assertThat;

import dev.admit.contract.IssuerWanted;
import dev.admit.contract.KeyWanted;
import dev.admit.core.change.Change;
import dev.admit.core.change.Expected;
import dev.admit.core.key.KeySpan;
import dev.admit.core.registration.KeyRegistration;
import dev.admit.core.registry.Issuer;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The next key comes by schedule, before the one that signs is due; the one before goes when its last token has. */
class KeyScheduleTest {
    @TempDir
    Path folder;

    private final SettableClock clock = new SettableClock("2026-06-01T12:00:00Z");
    private Harbour harbour;

    @BeforeEach
    void open() {
        harbour = new Harbour(folder, clock);
    }

    @AfterEach
    void close() {
        harbour.close();
    }

    private Issuer issuer() {
        return new SqliteIssuers(harbour.database).named("harbour").orElseThrow();
    }

    private void rotateEvery(String length) {
        made(harbour.issuers.change(
                "harbour",
                new IssuerWanted(null, null, null, null, length, null, null, null, null, null, null),
                Expected.ANY,
                CORIN));
    }

    /** What the service does once a minute. */
    private List<String> afterHousekeeping() {
        harbour.keys.rotateWhenDue(issuer());
        harbour.keys.rotateWhenDue(issuer());
        assertThat(harbour.keys.of(issuer()).stream()
                        .filter(span -> span.purpose() == dev.admit.core.key.SigningKeys.Purpose.ID_TOKEN))
                .as("keys of both kinds go the same way")
                .hasSameSizeAs(harbour.keys.of(issuer()).stream()
                        .filter(span -> span.purpose() == dev.admit.core.key.SigningKeys.Purpose.ACCESS_TOKEN)
                        .toList());
        return harbour.keys.of(issuer()).stream()
                .filter(span -> span.purpose() == dev.admit.core.key.SigningKeys.Purpose.ACCESS_TOKEN)
                .map(span -> span.stateAt(clock.instant()).toString())
                .toList();
    }

    private String signs() {
        return harbour.configuration
                .get()
                .issuer("harbour")
                .orElseThrow()
                .keys()
                .activeAt(clock.instant())
                .kid();
    }

    @Test
    void keysComeAndGoByThemselves() {
        rotateEvery("30d");
        String first = signs();
        clock.move(Duration.ofDays(26));
        assertThat(afterHousekeeping()).containsExactly("active");
        clock.move(Duration.ofDays(1).plusMinutes(1));
        assertThat(afterHousekeeping())
                .as("a tenth of the time ahead, and once")
                .containsExactly("upcoming", "active");
        assertThat(signs()).isEqualTo(first);
        assertThat(harbour.configuration
                        .get()
                        .issuer("harbour")
                        .orElseThrow()
                        .keys()
                        .publishedAt(clock.instant())
                        .getKeys())
                .as("two of each kind")
                .hasSize(4);
        clock.move(Duration.ofDays(3));
        assertThat(signs())
                .as("it took over when the first was due, with no job in between")
                .isNotEqualTo(first);
        assertThat(afterHousekeeping()).containsExactly("active", "retiring");
        clock.move(Duration.ofHours(24).plusMinutes(1));
        assertThat(afterHousekeeping()).containsExactly("active", "retired");
        assertThat(harbour.configuration
                        .get()
                        .issuer("harbour")
                        .orElseThrow()
                        .keys()
                        .withId(first, clock.instant()))
                .isEmpty();
    }

    @Test
    void anIssuerWithoutAScheduleKeepsItsKey() {
        rotateEvery("none");
        clock.move(Duration.ofDays(1000));
        assertThat(afterHousekeeping()).containsExactly("active");
    }

    @Test
    void aServiceThatWasOffWhenTheKeyWasDueStillPublishesTheNextOneFirst() {
        rotateEvery("30d");
        clock.move(Duration.ofDays(100));
        assertThat(afterHousekeeping()).containsExactly("upcoming", "active");
        clock.move(KeyRegistration.PUBLISHED_BEFORE.plusSeconds(1));
        assertThat(afterHousekeeping()).containsExactly("active", "retiring");
    }

    @Test
    void theUpcomingKeyTakesOverAtOnceWhenTheActiveOneIsTakenOut() {
        Change<KeySpan> next = harbour.keys.rotate(issuer(), new KeyWanted(null, null, "1d", null), CORIN, null);
        String first = signs();
        made(harbour.keys.remove(issuer(), first, CORIN, first));
        assertThat(signs()).isEqualTo(made(next).kid());
    }
}
