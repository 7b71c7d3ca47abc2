package dev.admit.core.audit;

import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.concurrent.atomic.AtomicInteger;

/**
 * Takes note of every token that is issued, and hands the notes to the audit in batches: a clean stop loses none, a
 * killed process at most those of the last moment. When more wait than can be kept, the one who issues waits too.
 */
public final class TokenEvents {
    private static final int MOST_WAITING = 100_000;
    private static final int BATCH = 2_000;

    private final Audit audit;
    private final ConcurrentLinkedQueue<AuditLine.Entry> waiting = new ConcurrentLinkedQueue<>();
    private final AtomicInteger size = new AtomicInteger();

    public TokenEvents(Audit audit) {
        this.audit = audit;
    }

    public void note(AuditLine.Entry event) {
        waiting.add(event);
        if (size.incrementAndGet() > MOST_WAITING) flush();
    }

    /** Keeps all that waits. When the store fails, what it did not take waits again. */
    public synchronized void flush() {
        while (true) {
            List<AuditLine.Entry> batch = new ArrayList<>();
            for (AuditLine.Entry next = waiting.poll(); next != null; next = waiting.poll()) {
                batch.add(next);
                if (batch.size() == BATCH) break;
            }
            if (batch.isEmpty()) return;
            try {
                audit.append(batch);
                size.addAndGet(-batch.size());
            } catch (RuntimeException storeFault) {
                waiting.addAll(batch);
                throw storeFault;
            }
        }
    }
}
