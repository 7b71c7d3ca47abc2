package dev.admit.core.token;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.atomic.AtomicLong;
import org.junit.jupiter.api.Test;

class TokenIdsTest {
    private static final Instant NOW = Instant.parse("2026-06-01T12:00:00Z");

    @Test
    void idsGrowWhileTheClockStandsStill() {
        TokenIds ids = new TokenIds(Clock.fixed(NOW, ZoneOffset.UTC), 0);
        long last = 0;
        for (int i = 0; i < 10_000; i++) {
            TokenId id = ids.next();
            assertThat(id.order()).isGreaterThan(last);
            assertThat(id.value().version()).isEqualTo(7);
            assertThat(id.value().variant()).isEqualTo(2);
            last = id.order();
        }
        assertThat(last >>> 16).as("milliseconds ahead at most").isBetween(NOW.toEpochMilli(), NOW.toEpochMilli() + 3);
    }

    @Test
    void idsGrowWhenTheClockIsSetBackAnHourAndTheServiceStartsAgain() {
        TokenId cutOff = new TokenIds(Clock.fixed(NOW, ZoneOffset.UTC), 0).next();
        TokenIds afterwards = new TokenIds(Clock.fixed(NOW.minus(Duration.ofHours(1)), ZoneOffset.UTC), cutOff.order());
        assertThat(afterwards.next().order()).isGreaterThan(cutOff.order());
    }

    @Test
    void idsFromManyThreadsAreAllDifferent() throws Exception {
        TokenIds ids = new TokenIds(Clock.systemUTC(), 0);
        List<Thread> threads = new ArrayList<>();
        var seen = java.util.concurrent.ConcurrentHashMap.<Long>newKeySet();
        for (int t = 0; t < 4; t++)
            threads.add(Thread.ofVirtual().start(() -> {
                for (int i = 0; i < 5_000; i++) seen.add(ids.next().order());
            }));
        for (Thread thread : threads) thread.join();
        assertThat(seen).hasSize(20_000);
    }

    @Test
    void onlyAVersionSevenUuidIsATokenId() {
        assertThat(TokenId.read("01a2079a-4156-7000-8df2-d82306812be3")).isPresent();
        assertThat(TokenId.read("2f1b0a5e-4b0c-4e0e-9c57-0d6f3f1f2a3b")).isEmpty();
        assertThat(TokenId.read("x")).isEmpty();
        assertThat(TokenId.read(null)).isEmpty();
    }

    /** A mint that reads an approval and a withdrawal of it race; whatever the order, no token escapes the cut-off. */
    @Test
    void noMintEscapesAWithdrawalThatWasAcknowledged() throws Exception {
        for (int round = 0; round < 300; round++) {
            MintingOrder order = new MintingOrder(new TokenIds(Clock.systemUTC(), 0));
            AtomicBoolean given = new AtomicBoolean(true);
            AtomicLong minted = new AtomicLong();
            AtomicLong cutOff = new AtomicLong();
            CountDownLatch go = new CountDownLatch(1);
            Thread mint = Thread.ofPlatform().start(() -> {
                await(go);
                order.minting(id -> {
                    if (given.get()) minted.set(id.order());
                    return null;
                });
            });
            Thread withdraw = Thread.ofPlatform().start(() -> {
                await(go);
                order.withdrawing(id -> {
                    given.set(false);
                    cutOff.set(id.order());
                    return null;
                });
            });
            go.countDown();
            mint.join();
            withdraw.join();
            assertThat(minted.get()).isLessThan(cutOff.get());
        }
    }

    private static void await(CountDownLatch latch) {
        try {
            latch.await();
        } catch (InterruptedException interrupted) {
            Thread.currentThread().interrupt();
        }
    }
}
