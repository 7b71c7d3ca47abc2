package dev.admit.core.limit;

import dev.admit.core.route.Limits;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;

/**
 * Counts requests against quotas, by calendar day or month in UTC. Counted in memory and kept in batches: a clean stop
 * loses nothing, a killed process at most the last second. What was used goes on counting when a quota is raised or
 * lowered.
 */
public final class Quotas {
    /**
     * What was used.
     *
     * @param quota its period and whose requests it counts
     * @param whom a client, a person; empty for everyone
     */
    public record Used(String routeId, String quota, String whom, Instant beganAt, long used) {}

    /** Where it is kept. */
    public interface Stored {
        List<Used> all();

        void keep(List<Used> some);

        /** Lets go of what began before. */
        void forget(Instant before);
    }

    private record Key(String routeId, Limits.By by, Limits.Period period, String whom) {
        String quota() {
            return period + " by " + by;
        }
    }

    private static final class Slot {
        private Instant begin = Instant.MIN;
        private long used;
    }

    private static final Duration LONGEST = Duration.ofDays(32);
    private final Stored kept;
    private final Map<Key, Slot> slots = new ConcurrentHashMap<>();
    private final Set<Key> waiting = ConcurrentHashMap.newKeySet();

    /** Goes on where the records end. */
    public Quotas(Stored kept) {
        this.kept = kept;
        for (Used it : kept.all()) {
            for (Limits.Period period : Limits.Period.values())
                for (Limits.By by : Limits.By.values()) {
                    Key key = new Key(it.routeId(), by, period, it.whom());
                    if (!key.quota().equals(it.quota())) continue;
                    Slot slot = new Slot();
                    slot.begin = it.beganAt();
                    slot.used = it.used();
                    slots.put(key, slot);
                }
        }
    }

    /** Takes one request's room, where there is any. */
    public Count take(String routeId, Limits.Quota quota, String whom, Instant now) {
        Key key = new Key(routeId, quota.by(), quota.period(), whom);
        Slot slot = slots.computeIfAbsent(key, fresh -> new Slot());
        Instant begin = quota.period().begin(now);
        Duration left = Duration.between(now, quota.period().end(now));
        boolean passes;
        long remaining;
        synchronized (slot) {
            if (begin.isAfter(slot.begin)) { // a clock that was set back does not begin the period anew
                slot.begin = begin;
                slot.used = 0;
            }
            passes = slot.used < quota.requests();
            if (passes) slot.used++;
            remaining = Math.max(0, quota.requests() - slot.used);
        }
        if (passes) waiting.add(key);
        return new Count(
                quota.by() + "-" + quota.period(),
                quota.toString(),
                quota.requests(),
                Duration.between(begin, quota.period().end(now)),
                passes,
                remaining,
                passes ? Duration.ZERO : left,
                left);
    }

    /** What was used of a quota in the period that a time lies in. */
    public long used(String of, Limits.Quota quota, String whom, Instant now) {
        Slot slot = slots.get(new Key(of, quota.by(), quota.period(), whom));
        if (slot == null) return 0;
        synchronized (slot) {
            return quota.period().begin(now).isAfter(slot.begin) ? 0 : slot.used;
        }
    }

    /** Keeps what was counted since. */
    public void flush() {
        List<Used> some = new ArrayList<>();
        List<Key> keys = List.copyOf(waiting);
        for (Key key : keys) {
            waiting.remove(key); // first, so that what is counted meanwhile waits again
            Slot slot = slots.get(key);
            if (slot == null) continue;
            synchronized (slot) {
                some.add(new Used(key.routeId(), key.quota(), key.whom(), slot.begin, slot.used));
            }
        }
        if (some.isEmpty()) return;
        try {
            kept.keep(some);
        } catch (RuntimeException storeFault) {
            waiting.addAll(keys); // what was not taken waits again
            throw storeFault;
        }
    }

    /** Lets go of periods that are over. */
    public void forget(Instant now) {
        Instant before = now.minus(LONGEST);
        slots.values().removeIf(slot -> {
            synchronized (slot) {
                return slot.begin.isBefore(before);
            }
        });
        kept.forget(before);
    }
}
