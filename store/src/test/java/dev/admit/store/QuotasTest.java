package dev.admit.store;

import static org.assertj.core.api.Assertions.assertThat;

import dev.admit.core.limit.Count;
import dev.admit.core.limit.Quotas;
import dev.admit.core.route.Limits;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Quotas: counted right by many at once, kept over a restart, and begun anew when a day or a month begins. */
class QuotasTest {
    private static final Limits.Quota MONTHLY = new Limits.Quota(Limits.By.CLIENT, 100, Limits.Period.MONTH);
    private static final Limits.Quota DAILY = new Limits.Quota(Limits.By.PERSON, 3, Limits.Period.DAY);
    private static final Instant NOW = Instant.parse("2026-11-30T23:00:00Z");

    @TempDir
    Path folder;

    private Database database;
    private Quotas quotas;

    @BeforeEach
    void open() {
        database = Harbour.fresh(folder.resolve("admit.db"));
        quotas = new Quotas(new SqliteQuotas(database));
    }

    @AfterEach
    void close() {
        database.close();
    }

    private void restart() {
        database.close();
        open();
    }

    @Test
    void thirtyTwoCallersAtOnceGetExactlyWhatThereIs() throws Exception {
        try (var callers = Executors.newFixedThreadPool(32)) {
            List<Callable<Integer>> calls = new ArrayList<>();
            for (int i = 0; i < 32; i++)
                calls.add(() -> {
                    int passed = 0;
                    for (int n = 0; n < 20; n++)
                        if (quotas.take("rt_1", MONTHLY, "cl_1", NOW).passes()) passed++;
                    return passed;
                });
            int all = 0;
            for (Future<Integer> one : callers.invokeAll(calls)) all += one.get();
            assertThat(all).isEqualTo(100);
        }
    }

    @Test
    void aRestartDoesNotEndIt() {
        for (int i = 0; i < 2; i++) quotas.take("rt_1", DAILY, "pe_1", NOW);
        quotas.take("rt_1", DAILY, "pe_2", NOW);
        quotas.flush();
        restart();

        assertThat(quotas.take("rt_1", DAILY, "pe_1", NOW))
                .extracting(Count::passes, Count::remaining)
                .containsExactly(true, 0L);
        Count over = quotas.take("rt_1", DAILY, "pe_1", NOW);
        assertThat(over.passes()).isFalse();
        assertThat(over.room()).isEqualTo(Duration.ofHours(1));
        assertThat(quotas.take("rt_1", DAILY, "pe_2", NOW).remaining()).isEqualTo(1);
        assertThat(quotas.take("rt_2", DAILY, "pe_1", NOW).remaining())
                .as("another route counts on its own")
                .isEqualTo(2);
    }

    @Test
    void aNewDayOrMonthBeginsAnewAndAClockSetBackDoesNot() {
        for (int i = 0; i < 5; i++) quotas.take("rt_1", DAILY, "pe_1", NOW);
        Instant tomorrow = NOW.plus(Duration.ofHours(2));
        assertThat(quotas.take("rt_1", DAILY, "pe_1", tomorrow).remaining()).isEqualTo(2);
        assertThat(quotas.take("rt_1", DAILY, "pe_1", NOW).remaining()).isEqualTo(1);
        assertThat(Limits.Period.MONTH.begin(NOW)).isEqualTo(Instant.parse("2026-11-01T00:00:00Z"));
        assertThat(Limits.Period.MONTH.end(NOW)).isEqualTo(Instant.parse("2026-12-01T00:00:00Z"));
    }

    @Test
    void whatWasUsedStaysWhenTheQuotaIsRaised() {
        for (int i = 0; i < 3; i++) quotas.take("rt_1", DAILY, "pe_1", NOW);
        Limits.Quota raised = new Limits.Quota(Limits.By.PERSON, 5, Limits.Period.DAY);
        assertThat(quotas.take("rt_1", raised, "pe_1", NOW).remaining()).isEqualTo(1);
    }

    @Test
    void whatIsOverIsForgotten() {
        quotas.take("rt_1", DAILY, "pe_1", NOW);
        quotas.flush();
        quotas.forget(NOW.plus(Duration.ofDays(60)));
        restart();
        assertThat(new SqliteQuotas(database).all()).isEmpty();
    }
}
