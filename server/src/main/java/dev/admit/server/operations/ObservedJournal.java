package dev.admit.server.operations;

import dev.admit.core.decision.Journal;
import dev.admit.core.decision.Recorder;
import java.util.Optional;

/**
 * The journal that everything writes to: each decision is counted, told to who looks on and to the access log where
 * there is one, and kept.
 */
public record ObservedJournal(Journal kept, Metrics metrics, LiveFeed feed, Optional<AccessLog> log)
        implements Journal {
    @Override
    public void write(Recorder decision, int answered) {
        metrics.saw(decision);
        log.ifPresent(it -> it.saw(decision, answered));
        kept.write(decision, answered);
        feed.saw(decision);
    }
}
