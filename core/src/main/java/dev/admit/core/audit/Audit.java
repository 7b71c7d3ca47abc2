package dev.admit.core.audit;

import dev.admit.core.change.Actor;
import dev.admit.core.change.Transactions;
import dev.admit.core.key.MasterKey;
import dev.admit.core.key.SigningFault;
import java.time.Clock;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;

/** Writes who changed what, chained by hash, and proves that nothing of it was altered or removed since. */
public final class Audit {
    private static final int AT_ONCE = 1_000;

    private final Transactions transactions;
    private final AuditTrail trail;
    private final MasterKey masterKey;
    private final Clock clock;

    public Audit(Transactions transactions, AuditTrail trail, MasterKey masterKey, Clock clock) {
        this.transactions = transactions;
        this.trail = trail;
        this.masterKey = masterKey;
        this.clock = clock;
    }

    /** Whether a change would change anything but the count of changes. */
    public static boolean same(Object before, Object after) {
        return differences(before, after).isEmpty();
    }

    /** What differs, by member, each as before and after; without what differs in every change. */
    public static Map<String, List<String>> differences(Object before, Object after) {
        Map<String, Object> was = new LinkedHashMap<>();
        Map<String, Object> is = new LinkedHashMap<>();
        flatten("", AuditJson.of(before), was);
        flatten("", AuditJson.of(after), is);
        Map<String, List<String>> members = new LinkedHashMap<>();
        was.forEach((member, value) -> members.put(member, List.of(text(value), text(is.get(member)))));
        is.forEach((member, value) -> members.putIfAbsent(member, List.of("", text(value))));
        members.values().removeIf(both -> both.getFirst().equals(both.getLast()));
        members.keySet().removeAll(List.of("version", "decided_at", "requested_at", "id"));
        return members;
    }

    private static void flatten(String prefix, Map<?, ?> from, Map<String, Object> to) {
        from.forEach((name, value) -> {
            if (value instanceof Map<?, ?> more) flatten(prefix + name + ".", more, to);
            else to.put(prefix + name, value);
        });
    }

    private static String text(@Nullable Object value) {
        return value == null ? "" : value instanceof String text ? text : String.valueOf(value);
    }

    /** A thing is there that was not. To be called in the transaction of the change, as the next two. */
    public void added(Actor by, String issuerId, String what, String on, Object after) {
        write(by, issuerId, what, on, "", AuditJson.json(AuditJson.of(after)));
    }

    /** A thing was changed; only the members that differ are written. */
    public void changed(Actor by, String issuerId, String what, String on, Object before, Object after) {
        List<Map<String, Object>> difference = AuditJson.difference(before, after);
        write(by, issuerId, what, on, AuditJson.json(difference.getFirst()), AuditJson.json(difference.getLast()));
    }

    public void removed(Actor by, String issuerId, String what, String on, Object before) {
        write(by, issuerId, what, on, AuditJson.json(AuditJson.of(before)), "");
    }

    private void write(Actor by, String issuerId, String what, String on, String before, String after) {
        append(List.of(new AuditLine.Entry(
                issuerId, now(), what, by.name(), by.id(), by.from(), on, before, after, Optional.empty())));
    }

    /** Milliseconds, as they are kept: the hash is of what can be read again. */
    private Instant now() {
        return clock.instant().truncatedTo(ChronoUnit.MILLIS);
    }

    /** Appends lines of any issuers in one transaction. */
    void append(List<AuditLine.Entry> entries) {
        Map<String, List<AuditLine.Entry>> byIssuer = new LinkedHashMap<>();
        for (AuditLine.Entry entry : entries)
            byIssuer.computeIfAbsent(entry.issuerId(), fresh -> new ArrayList<>())
                    .add(entry);
        transactions.inOne(() -> {
            byIssuer.forEach((issuerId, its) -> {
                Chain chain = chain(issuerId);
                List<AuditLine> lines = new ArrayList<>(its.size());
                for (AuditLine.Entry entry : its) {
                    AuditLine line = AuditLine.after(chain.last(), entry);
                    lines.add(line);
                    chain = chain.endingWith(line);
                }
                trail.append(lines);
                trail.putEnds(issuerId, chain.sealWith(masterKey, issuerId));
            });
            return null;
        });
    }

    private Chain chain(String issuerId) {
        return Chain.unseal(trail.ends(issuerId), masterKey, issuerId);
    }

    /** What verifying an issuer's audit came to. */
    public sealed interface Proof {
        /**
         * @param first the number of the first line that is kept
         * @param last of the last; first exceeds last when there is none
         */
        record Whole(long first, long last) implements Proof {}

        /**
         * @param seq where the first fault is
         * @param fault what it is, as a sentence
         */
        record Broken(long seq, String fault) implements Proof {}
    }

    /**
     * Reads every line of an issuer and computes the chain anew.
     *
     * @param progress is told the number of each thousandth line
     */
    public Proof verify(String issuerId, Consumer<Long> progress) {
        Chain chain;
        try {
            chain = chain(issuerId);
        } catch (SigningFault altered) {
            return new Proof.Broken(
                    0,
                    "The sealed ends of the audit do not open: they were altered, or the master key is another one.");
        }
        Chain.Link at = chain.first();
        while (true) {
            List<AuditLine> lines = trail.following(issuerId, at.seq(), AT_ONCE);
            for (AuditLine line : lines) {
                if (line.seq() > chain.last().seq()) return seenWhileGrowing(issuerId, chain, at);
                if (line.seq() != at.seq() + 1) {
                    return new Proof.Broken(
                            at.seq() + 1, "Line %d is not there; the next is %d.".formatted(at.seq() + 1, line.seq()));
                }
                if (!line.follows(at))
                    return new Proof.Broken(
                            line.seq(),
                            "Line %d is not what was written, or the one before it is not.".formatted(line.seq()));
                at = new Chain.Link(line.seq(), line.hash());
            }
            if (lines.size() < AT_ONCE) return ended(chain, at);
            progress.accept(at.seq());
        }
    }

    /** Lines came while it was read: what is behind the end as it was at first is left to the next time. */
    private Proof seenWhileGrowing(String issuerId, Chain chain, Chain.Link at) {
        boolean grown = chain(issuerId).last().seq() > chain.last().seq();
        return grown
                ? ended(chain, at)
                : new Proof.Broken(at.seq() + 1, "Line %d was added by another person.".formatted(at.seq() + 1));
    }

    private static Proof ended(Chain chain, Chain.Link at) {
        if (at.equals(chain.last())) return new Proof.Whole(chain.first().seq() + 1, at.seq());
        return at.seq() < chain.last().seq()
                ? new Proof.Broken(
                        at.seq() + 1,
                        "Lines %d to %d were taken off the end."
                                .formatted(at.seq() + 1, chain.last().seq()))
                : new Proof.Broken(at.seq(), "The chain was computed anew: its last hash is not the sealed one.");
    }

    /**
     * Lets go of lines older than a time; what stays can still be verified.
     *
     * @return how many went
     */
    public int forget(Instant olderThan) {
        int gone = 0;
        for (String issuerId : trail.issuers()) {
            gone += transactions.inOne(() -> trail.lastBefore(issuerId, olderThan)
                    .map(line -> {
                        trail.putEnds(
                                issuerId, chain(issuerId).beginningAfter(line).sealWith(masterKey, issuerId));
                        return trail.removeThrough(issuerId, line.seq());
                    })
                    .orElse(0));
        }
        return gone;
    }
}
