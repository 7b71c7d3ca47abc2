package dev.admit.core.tries;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import java.time.Duration;
import java.util.concurrent.atomic.AtomicInteger;

/**
 * Bounds what those cost who prove nothing: look-ups of what nobody knows, and records that anybody can have made. In
 * memory, by network.
 */
public final class Strangers {
    private static final int MOST_LOOK_UPS = 300;
    private static final int MOST_BEGUN = 30;
    private static final Duration WINDOW = Duration.ofMinutes(1);

    private final Cache<String, AtomicInteger> missed = counts();
    private final Cache<String, AtomicInteger> begun = counts();

    private static Cache<String, AtomicInteger> counts() {
        return Caffeine.newBuilder()
                .maximumSize(50_000)
                .expireAfterWrite(WINDOW)
                .build();
    }

    /**
     * Whether the records may be requested what an address names; an empty one is of a person who proved who they are,
     * and is not bounded. Once it named too much that is not there, they are not, for a minute.
     */
    public boolean mayLookUp(String address) {
        AtomicInteger count = address.isEmpty() ? null : missed.getIfPresent(Network.of(address));
        return count == null || count.get() < MOST_LOOK_UPS;
    }

    /** What the address named was not there. */
    public void missed(String address) {
        if (!address.isEmpty())
            missed.get(Network.of(address), fresh -> new AtomicInteger()).incrementAndGet();
    }

    /**
     * Counts a record that is to be made for an address.
     *
     * @return whether it may be
     */
    public boolean mayBegin(String address) {
        return begun.get(Network.of(address), fresh -> new AtomicInteger()).incrementAndGet() <= MOST_BEGUN;
    }
}
