package dev.admit.core.limit;

import com.github.benmanes.caffeine.cache.Caffeine;
import com.github.benmanes.caffeine.cache.LoadingCache;
import dev.admit.core.route.Limits;
import io.github.bucket4j.Bucket;
import io.github.bucket4j.ConsumptionProbe;
import java.time.Duration;
import java.util.concurrent.atomic.AtomicInteger;

/**
 * Counts requests, in memory: how many in how long a time, and how many at once. The one who is not seen for a day is
 * forgotten, and so are those beyond a million.
 */
public final class Counters {
    private static final int MOST = 1_000_000;

    /**
     * @param route the id of a route
     * @param whom the id of a client, a person, an address; empty for everyone
     */
    private record Key(String route, Limits.Rate rate, String whom) {}

    private final LoadingCache<Key, Bucket> buckets = Caffeine.newBuilder()
            .maximumSize(MOST)
            .expireAfterAccess(Duration.ofDays(1))
            .build(key -> Bucket.builder()
                    .addLimit(limit -> limit.capacity(key.rate().requests())
                            .refillGreedy(key.rate().requests(), key.rate().per()))
                    .build());
    private final LoadingCache<String, AtomicInteger> underWay =
            Caffeine.newBuilder().build(route -> new AtomicInteger());

    /** Takes one request's room, where there is any. */
    public Count take(String route, Limits.Rate rate, String whom) {
        ConsumptionProbe probe = buckets.get(new Key(route, rate, whom)).tryConsumeAndReturnRemaining(1);
        return new Count(
                rate.by().toString(),
                rate.toString(),
                rate.requests(),
                rate.per(),
                probe.isConsumed(),
                probe.getRemainingTokens(),
                Duration.ofNanos(probe.getNanosToWaitForRefill()),
                Duration.ofNanos(probe.getNanosToWaitForReset()));
    }

    /** @return whether there was room; then {@link #leave} must follow */
    public boolean enter(String route, int most) {
        AtomicInteger now = underWay.get(route);
        if (now.incrementAndGet() <= most) return true;
        now.decrementAndGet();
        return false;
    }

    public void leave(String route) {
        underWay.get(route).decrementAndGet();
    }
}
