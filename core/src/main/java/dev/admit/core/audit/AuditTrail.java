package dev.admit.core.audit;

import dev.admit.core.change.Page;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/** The lines that are kept. */
public interface AuditTrail {

    /** The sealed ends of an issuer's chain; empty while it has no line. */
    Optional<byte[]> ends(String issuerId);

    void append(List<AuditLine> lines);

    void putEnds(String issuerId, byte[] sealed);

    /** Lines in their order, after one; at most so many. */
    List<AuditLine> following(String issuerId, long seq, int most);

    /** The newest first. */
    Page<AuditLine> list(String issuerId, Filter filter, Page.Ask ask);

    /**
     * Tokens that were issued, the newest first.
     *
     * @param clientId empty for every client, as
     * @param api for every API
     * @param activeAt only those that had not expired by then; empty for all
     */
    Page<AuditLine> issued(String issuerId, String clientId, String api, Optional<Instant> activeAt, Page.Ask ask);

    /** The last line older than a time; empty when there is none. */
    Optional<AuditLine> lastBefore(String issuerId, Instant time);

    /**
     * Removes every line up to and with this one.
     *
     * @return how many
     */
    int removeThrough(String issuerId, long seq);

    /** Ids of all issuers that have lines, those that were removed with them. */
    List<String> issuers();

    /**
     * Which lines are wanted; empty members want all.
     *
     * @param what {@code client.changed}, or {@code client} for all that begins with it
     * @param who name or id of who did it
     * @param on the name of the thing
     * @param since from then on
     * @param until before then
     */
    record Filter(String what, String who, String on, Instant since, Instant until) {
        public static final Filter ALL =
                new Filter("", "", "", Instant.EPOCH, Instant.ofEpochMilli(Long.MAX_VALUE / 2));
    }
}
