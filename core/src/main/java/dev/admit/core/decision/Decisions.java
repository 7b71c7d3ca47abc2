package dev.admit.core.decision;

import dev.admit.core.change.Page;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/** The decisions that were kept: written in batches, read newest first. */
public interface Decisions {

    /** Writes a batch; all of it or none. */
    void keep(List<Decision> batch);

    Optional<Decision> find(String id);

    /** Newest first. */
    Page<Decision> list(Filter filter, Page.Ask ask);

    /** Removes those made before then. @return how many */
    int forget(Instant before);

    /** What is wanted of a list; an empty member does not narrow it. @param issuer its decisions, and those that reached no issuer, @param ownedBy a person who answers for the client or the API */
    record Filter(Optional<String> issuer, Optional<String> client, Optional<String> route, Optional<String> verdict,
                  Optional<String> reason, Optional<String> plane, Optional<String> ownedBy) {
        public static final Filter ALL = new Filter(Optional.empty(), Optional.empty(), Optional.empty(),
                Optional.empty(), Optional.empty(), Optional.empty(), Optional.empty());
    }
}
