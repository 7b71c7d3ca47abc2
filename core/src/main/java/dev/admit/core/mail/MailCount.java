package dev.admit.core.mail;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import java.time.Duration;
import java.util.concurrent.atomic.AtomicInteger;

/**
 * Counts the mails of an hour, so that nobody can be flooded through this service. Stored in memory: a restart forgets
 * it.
 */
public final class MailCount {
    private final Cache<String, AtomicInteger> sent = Caffeine.newBuilder()
            .maximumSize(50_000)
            .expireAfterWrite(Duration.ofHours(1))
            .build();

    /**
     * Counts one more.
     *
     * @param what such as an address.
     * @return whether it was within so many an hour
     */
    public boolean isWithin(int most, String what) {
        return sent.get(what, fresh -> new AtomicInteger()).incrementAndGet() <= most;
    }
}
