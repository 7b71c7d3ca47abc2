package dev.admit.core.clientauth;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import java.time.Duration;
import java.util.concurrent.atomic.AtomicInteger;

/**
 * Slows whoever guesses credentials, by address and by client. The right credential is never slowed and never counted, so no
 * stranger can lock a client out; an address that goes on guessing is not looked at any more for a while, except for clients that
 * proved themselves from there before.
 */
public final class SlowedGuessing {
    /** So many wrong ones are taken for mistakes. */
    private static final int FREE = 3;
    private static final Duration STEP = Duration.ofMillis(100);
    private static final Duration LONGEST = Duration.ofSeconds(2);
    /** From so many a minute on, an address is not looked at. */
    static final int MOST_OF_ADDRESS = 60;
    public static final Duration WINDOW = Duration.ofMinutes(1);

    private final Cache<String, AtomicInteger> byAddress = counters();
    private final Cache<String, AtomicInteger> byClient = counters();
    private final Cache<String, Boolean> provedFrom = Caffeine.newBuilder().maximumSize(50_000).expireAfterWrite(Duration.ofDays(1)).build();

    private static Cache<String, AtomicInteger> counters() {
        return Caffeine.newBuilder().maximumSize(50_000).expireAfterWrite(WINDOW).build();
    }

    /** Whether an address has guessed so much that its requests for this client are not looked at. */
    boolean isTooMuch(String address, String clientId) {
        return count(byAddress, address) >= MOST_OF_ADDRESS && provedFrom.getIfPresent(address + " " + clientId) == null;
    }

    public void wrong(String address, String clientId) {
        byAddress.get(address, fresh -> new AtomicInteger()).incrementAndGet();
        byClient.get(clientId, fresh -> new AtomicInteger()).incrementAndGet();
    }

    void right(String address, String clientId) {
        String pair = address + " " + clientId;
        if (provedFrom.getIfPresent(pair) == null) provedFrom.put(pair, true);
    }

    /** How long the answer to a wrong credential waits: nothing for the first few, then twice as long each time. */
    public Duration wait(String address, String clientId) {
        int wrong = Math.max(count(byAddress, address), count(byClient, clientId));
        if (wrong <= FREE) return Duration.ZERO;
        Duration wait = STEP.multipliedBy(1L << Math.min(wrong - FREE - 1, 10));
        return wait.compareTo(LONGEST) > 0 ? LONGEST : wait;
    }

    private static int count(Cache<String, AtomicInteger> counters, String of) {
        AtomicInteger counter = counters.getIfPresent(of);
        return counter == null ? 0 : counter.get();
    }
}
