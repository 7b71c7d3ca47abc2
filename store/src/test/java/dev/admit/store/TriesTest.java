package dev.admit.store;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.ArgumentMatchers.anyString;
import static org.mockito.Mockito.spy;
import static org.mockito.Mockito.times;
import static org.mockito.Mockito.verify;

import dev.admit.core.tries.Network;
import dev.admit.core.tries.Tries;
import dev.admit.core.tries.Tries.At;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class TriesTest {
    private static final Instant NOW = Instant.parse("2027-01-31T08:00:00Z");

    @TempDir
    Path folder;

    @Test
    void ofManyAtOnceNoMoreAreChargedThanThereAre() throws Exception {
        try (Database database = Harbour.fresh(folder.resolve("a.db"));
                var pool = Executors.newFixedThreadPool(16)) {
            Tries tries = new Tries(new SqliteTries(database));
            List<Callable<Boolean>> all = new ArrayList<>();
            for (int i = 0; i < 200; i++) all.add(() -> tries.charge(At.TIME_CODE, "pe_ama", NOW));
            int granted = 0;
            for (Future<Boolean> one : pool.invokeAll(all)) granted += one.get() ? 1 : 0;
            assertThat(granted).isEqualTo(At.TIME_CODE.most());
            assertThat(tries.charge(At.TIME_CODE, "pe_corin", NOW))
                    .as("another person's are their own")
                    .isTrue();
        }
    }

    @Test
    void aRestartForgetsNoneAndTimeGivesThemBack() {
        try (Database database = Harbour.fresh(folder.resolve("a.db"))) {
            Tries tries = new Tries(new SqliteTries(database));
            for (int i = 0; i < At.ACCOUNT.most(); i++)
                assertThat(tries.charge(At.ACCOUNT, "someone", NOW)).isTrue();
        }
        try (Database database = Harbour.fresh(folder.resolve("a.db"))) {
            SqliteTries kept = new SqliteTries(database);
            Tries tries = new Tries(kept);
            assertThat(tries.charge(At.ACCOUNT, "someone", NOW)).isFalse();
            assertThat(tries.charge(At.ACCOUNT, "someone", NOW.plus(At.ACCOUNT.stretch())))
                    .as("nobody is locked out for good")
                    .isTrue();
            assertThat(kept.drop(NOW.plus(Duration.ofDays(1)))).isEqualTo(1);
        }
    }

    /** Two budgets within a minute, around the turn of an hour, would be twice as many as are said. */
    @Test
    void aTurnOfTheHourGivesNoMore() {
        try (Database database = Harbour.fresh(folder.resolve("a.db"))) {
            Tries tries = new Tries(new SqliteTries(database));
            Instant before = NOW.minusSeconds(30);
            for (int i = 0; i < At.ACCOUNT.most() - 1; i++)
                assertThat(tries.charge(At.ACCOUNT, "someone", before)).isTrue();
            assertThat(tries.charge(At.ACCOUNT, "someone", NOW.plusSeconds(30))).isTrue();
            assertThat(tries.charge(At.ACCOUNT, "someone", NOW.plusSeconds(30))).isFalse();
            assertThat(tries.charge(
                            At.ACCOUNT,
                            "someone",
                            before.plus(At.ACCOUNT.stretch()).minusMillis(1)))
                    .isFalse();
            assertThat(tries.charge(At.ACCOUNT, "someone", before.plus(At.ACCOUNT.stretch())))
                    .isTrue();
            assertThat(tries.charge(At.ACCOUNT, "someone", NOW.minus(Duration.ofDays(300))))
                    .as("a clock that was far ahead locks nobody out")
                    .isTrue();
        }
    }

    @Test
    void whoeverGoesOnWithNoneLeftCostsNoWrite() {
        try (Database database = Harbour.fresh(folder.resolve("a.db"))) {
            Tries.Stored kept = spy(new SqliteTries(database));
            Tries tries = new Tries(kept);
            for (int i = 0; i < 1_000; i++) tries.charge(At.ACCOUNT, "someone", NOW);
            verify(kept, times(At.ACCOUNT.most() + 1)).add(anyString(), any(), any());
            // Two that were being looked at meanwhile turn out right: one of them had been charged in vain.
            tries.giveBack(At.ACCOUNT, "someone", NOW);
            assertThat(tries.charge(At.ACCOUNT, "someone", NOW)).isFalse();
            tries.giveBack(At.ACCOUNT, "someone", NOW);
            tries.giveBack(At.ACCOUNT, "someone", NOW);
            assertThat(tries.charge(At.ACCOUNT, "someone", NOW)).isTrue();
            assertThat(tries.charge(At.ACCOUNT, "someone", NOW)).isFalse();
        }
    }

    @Test
    void whatWasRightCostsNothing() {
        try (Database database = Harbour.fresh(folder.resolve("a.db"))) {
            Tries tries = new Tries(new SqliteTries(database));
            for (int i = 0; i < 10 * At.USER_CODE_IN_BROWSER.most(); i++) {
                assertThat(tries.charge(At.USER_CODE_IN_BROWSER, "browser", NOW))
                        .isTrue();
                tries.giveBack(At.USER_CODE_IN_BROWSER, "browser", NOW);
            }
            tries.giveBack(At.USER_CODE_IN_BROWSER, "browser", NOW);
            for (int i = 0; i < At.USER_CODE_IN_BROWSER.most(); i++)
                assertThat(tries.charge(At.USER_CODE_IN_BROWSER, "browser", NOW))
                        .isTrue();
            assertThat(tries.charge(At.USER_CODE_IN_BROWSER, "browser", NOW))
                    .as("giving back too often makes no more")
                    .isFalse();
        }
    }

    @ParameterizedTest(name = "{0} and {1}: {2}")
    @CsvSource(textBlock = """
            192.0.2.1,           192.0.2.2,            false
            2001:db8:1:2::1,     2001:db8:1:2:ffff::9, true
            2001:db8:1:2::1,     2001:db8:1:3::1,      false
            ::ffff:192.0.2.1,    192.0.2.1,            true
            [2001:db8:1:2::1],   2001:db8:1:2::1,      true""")
    void aCallerChoosesAmongTheAddressesOfTheirNetwork(String one, String other, boolean same) {
        assertThat(Network.of(one).equals(Network.of(other))).isEqualTo(same);
    }
}
