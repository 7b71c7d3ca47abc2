package dev.admit.core.limit;

import static org.assertj.core.api.Assertions.assertThat;

import dev.admit.core.route.Limits;
import java.time.Duration;
import java.util.List;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.Executors;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.Test;

class CountersTest {
    private final Counters counters = new Counters();
    private final Limits.Rate rate = new Limits.Rate(Limits.By.CLIENT, 100, Duration.ofDays(1));

    /** Runs on 32 threads that begin together. */
    private static int passed(int times, java.util.function.BooleanSupplier request) throws Exception {
        AtomicInteger passed = new AtomicInteger();
        CountDownLatch begin = new CountDownLatch(1);
        try (var threads = Executors.newFixedThreadPool(32)) {
            for (int i = 0; i < 32; i++) {
                threads.submit(() -> {
                    begin.await();
                    for (int n = 0; n < times; n++) if (request.getAsBoolean()) passed.incrementAndGet();
                    return null;
                });
            }
            begin.countDown();
        }
        return passed.get();
    }

    @Test
    void thirtyTwoAtOnceGetWhatIsThereAndNoMore() throws Exception {
        assertThat(passed(20, () -> counters.take("rt", rate, "cl").passes())).isEqualTo(100);
    }

    @Test
    void eachIsCountedOnItsOwn() {
        for (int i = 0; i < 100; i++) counters.take("rt", rate, "one");
        assertThat(counters.take("rt", rate, "one").passes()).isFalse();
        assertThat(counters.take("rt", rate, "another").remaining()).isEqualTo(99);
        assertThat(counters.take("rt_other", rate, "one").passes()).isTrue();
        assertThat(counters.take("rt", rate, "one").room())
                .as("a day for a hundred")
                .isBetween(Duration.ofMinutes(10), Duration.ofMinutes(15));
    }

    @Test
    void noMoreThanSoManyAreUnderWay() throws Exception {
        AtomicInteger under = new AtomicInteger();
        AtomicInteger most = new AtomicInteger();
        passed(200, () -> {
            if (!counters.enter("rt", 5)) return false;
            most.accumulateAndGet(under.incrementAndGet(), Math::max);
            under.decrementAndGet();
            counters.leave("rt");
            return true;
        });
        assertThat(most.get()).isBetween(1, 5);
        assertThat(List.of(1, 2, 3, 4, 5)).allMatch(it -> counters.enter("rt", 5));
        assertThat(counters.enter("rt", 5)).isFalse();
    }
}
