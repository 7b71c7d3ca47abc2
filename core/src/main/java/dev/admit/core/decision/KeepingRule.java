package dev.admit.core.decision;

import java.time.Instant;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.LongAdder;

/**
 * Decides which decisions are kept whole, so that a flood neither fills the disk nor pushes out what matters: refusals
 * up to a cap per reason, address and minute; admitted requests up to a cap per second. The rest is counted.
 */
public final class KeepingRule {
    private static final int MOST_COUNTERS = 10_000;

    private final int admittedPerSecond;
    private final int refusedPerMinute;
    private final ConcurrentHashMap<String, AtomicInteger> refused = new ConcurrentHashMap<>();
    private final AtomicInteger refusedElsewhere = new AtomicInteger();
    private final AtomicInteger admitted = new AtomicInteger();
    private final LongAdder passedOver = new LongAdder();
    private volatile long second;
    private volatile long minute;

    public KeepingRule(int admittedPerSecond, int refusedPerMinute) {
        this.admittedPerSecond = admittedPerSecond;
        this.refusedPerMinute = refusedPerMinute;
    }

    /** Whether this decision is to be kept whole; when not, it has been counted. Safe from many threads. */
    public boolean keeps(Recorder decision) {
        boolean keep = decision.refusal()
                .map(why -> keepsRefused(why.reason(), decision.from(), decision.at()))
                .orElseGet(() -> keepsAdmitted(decision.at()));
        if (!keep) passedOver.increment();
        return keep;
    }

    /** How many decisions were counted and not kept since the start. */
    public long passedOver() {
        return passedOver.sum();
    }

    private boolean keepsAdmitted(Instant at) {
        long now = at.getEpochSecond();
        if (now != second) { // two threads may both reset: then a few more are kept, which does no harm
            second = now;
            admitted.set(0);
        }
        return admitted.incrementAndGet() <= admittedPerSecond;
    }

    private boolean keepsRefused(Reason reason, String from, Instant at) {
        long now = at.getEpochSecond() / 60;
        if (now != minute) {
            minute = now;
            refused.clear();
            refusedElsewhere.set(0);
        }
        // Many invented addresses share one counter, so that the counters themselves cannot be flooded.
        String key = reason + " " + from;
        AtomicInteger counter = refused.size() < MOST_COUNTERS
                ? refused.computeIfAbsent(key, fresh -> new AtomicInteger())
                : refused.getOrDefault(key, refusedElsewhere);
        return counter.incrementAndGet() <= refusedPerMinute;
    }
}
