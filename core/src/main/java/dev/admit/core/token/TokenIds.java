package dev.admit.core.token;

import java.time.Clock;
import java.time.Instant;
import java.util.UUID;
import java.util.concurrent.ThreadLocalRandom;
import java.util.concurrent.atomic.AtomicLong;

/** Hands out token ids, each later than all before it, also when the clock stands still or is set back. */
public final class TokenIds {
    private final Clock clock;
    /** Milliseconds and a counter of 12 bits: what the upper half of the last id held. */
    private final AtomicLong last;

    /** @param notBefore the {@link TokenId#order} that every id must exceed; 0 for none */
    public TokenIds(Clock clock, long notBefore) {
        this.clock = clock;
        this.last = new AtomicLong((notBefore >>> 16) << 12 | notBefore & 0xfff);
    }

    /** The {@link TokenId#order} that every id made before a time is below. */
    public static long orderAt(Instant time) {
        return time.toEpochMilli() << 16 | 0x7000;
    }

    public TokenId next() {
        long now = clock.millis() << 12;
        long at = last.updateAndGet(before -> Math.max(before + 1, now));
        long upper = (at >>> 12) << 16 | 0x7000 | at & 0xfff;
        long lower = ThreadLocalRandom.current().nextLong() >>> 2 | 0x8000000000000000L;
        return new TokenId(new UUID(upper, lower));
    }
}
