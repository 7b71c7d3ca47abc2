package dev.admit.core.decision;

import dev.admit.core.accessmap.AccessMap.Passed;
import dev.admit.core.change.Page;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** The decisions that were kept: written in batches, read newest first. */
public interface Decisions {

    /** Writes a batch; all of it or none. */
    void keep(List<Decision> batch);

    Optional<Decision> find(String id);

    /** Newest first. */
    Page<Decision> list(Filter filter, Page.Ask ask);

    /**
     * Removes those made before then.
     *
     * @return how many
     */
    int forget(Instant before);

    /**
     * How many there are of each, the most first within each stretch of time.
     *
     * @param per the length of a stretch; empty for all time together
     */
    List<Count> count(Filter filter, By by, Optional<Duration> per);

    /**
     * What passed at the gateway and what did not, by client and route, among the newest that are kept.
     *
     * @param most how many are looked at
     */
    List<Passed> passed(String issuer, Instant since, int most);

    /**
     * @param what the client, person, and so on; empty where nobody knew
     * @param from the beginning of the stretch; empty for all time together
     */
    record Count(String what, Optional<Instant> from, long decisions) {}

    /** What they are counted by. */
    enum By {
        CLIENT,
        PERSON,
        API,
        ROUTE,
        VERDICT,
        REASON,
        ENDPOINT;

        @Override
        public String toString() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    /**
     * What is wanted of a list; an empty member does not narrow it.
     *
     * @param issuer its decisions
     * @param unrouted also those that reached no issuer, which only people of the service may see
     * @param client id or name
     * @param person id or address
     * @param since made then or later
     * @param until before then
     * @param ownedBy a person who answers for the client or the API
     */
    record Filter(
            Optional<String> issuer,
            Optional<String> client,
            Optional<String> person,
            Optional<String> api,
            Optional<String> route,
            Optional<String> verdict,
            Optional<String> reason,
            Optional<String> endpoint,
            Optional<Instant> since,
            Optional<Instant> until,
            Optional<String> ownedBy,
            boolean unrouted) {
        public static final Filter ALL = new Filter(
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                true);
    }
}
