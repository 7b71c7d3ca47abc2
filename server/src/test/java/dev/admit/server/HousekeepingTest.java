package dev.admit.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.Test;
import org.springframework.scheduling.concurrent.ThreadPoolTaskScheduler;

class HousekeepingTest {

    @Test
    void whatGoesWrongInOneTaskKeepsNoOtherFromItsTurn() {
        AtomicInteger done = new AtomicInteger();
        Housekeeping.goOn("the first", () -> {
            throw new OutOfMemoryError("made up");
        });
        Housekeeping.goOn("the second", () -> {
            throw new IllegalStateException("made up");
        });
        Housekeeping.goOn("the third", done::incrementAndGet);
        assertThat(done).hasValue(1);
    }

    @Test
    void norFromItsNextTurn() throws Exception {
        ThreadPoolTaskScheduler scheduler = new ThreadPoolTaskScheduler(); // what runs @Scheduled
        scheduler.initialize();
        CountDownLatch turns = new CountDownLatch(3);
        scheduler.scheduleWithFixedDelay(
                () -> Housekeeping.goOn("a task", () -> {
                    turns.countDown();
                    throw new StackOverflowError("made up");
                }),
                java.time.Duration.ofMillis(1));
        assertThat(turns.await(10, TimeUnit.SECONDS)).isTrue();
        scheduler.shutdown();
    }
}
