package dev.admit.core.decision;

import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.concurrent.atomic.AtomicInteger;

/**
 * Gathers decisions in memory and keeps them in batches, so that no request waits for the disk. A clean stop flushes; a
 * killed process loses what came since the last flush.
 */
public final class BatchedJournal implements Journal {
    private static final int MOST_WAITING = 50_000;
    private static final int BATCH = 1_000;

    private final Decisions decisions;
    private final KeepingRule rule;
    private final ConcurrentLinkedQueue<Decision> waiting = new ConcurrentLinkedQueue<>();
    private final AtomicInteger size = new AtomicInteger();

    public BatchedJournal(Decisions decisions, KeepingRule rule) {
        this.decisions = decisions;
        this.rule = rule;
    }

    @Override
    public void write(Recorder decision, int answered) {
        if (!rule.keeps(decision) || size.get() >= MOST_WAITING) return;
        size.incrementAndGet();
        waiting.add(decision.answered(answered));
    }

    /** Keeps all that waits. When the store fails, what it did not take waits again. */
    public synchronized void flush() {
        List<Decision> batch = new ArrayList<>();
        while (true) {
            batch.clear();
            for (Decision next = waiting.poll(); next != null; next = waiting.poll()) {
                batch.add(next);
                if (batch.size() == BATCH) break;
            }
            if (batch.isEmpty()) return;
            try {
                decisions.keep(batch);
                size.addAndGet(-batch.size());
            } catch (RuntimeException storeFault) {
                waiting.addAll(batch);
                throw storeFault;
            }
        }
    }
}
