package dev.admit.core.plan;

import dev.admit.core.limit.Count;
import dev.admit.core.route.Limits;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Queue;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.concurrent.atomic.LongAdder;

/**
 * How many requests came by each subscription on each day, in UTC. Counted in memory and kept in batches: a clean stop
 * loses nothing, a killed process less than the last second.
 */
public final class Usage implements SubscriptionUse {
    /**
     * Requests of a day.
     *
     * @param limited refused, because a limit of the plan had no room
     */
    public record Day(String subscriptionId, LocalDate day, long admitted, long limited) {}

    /** Where it is kept. */
    public interface Stored {
        /** By day. */
        List<Day> of(String subscriptionId, LocalDate from);

        /** Adds to what is there. */
        void add(List<Day> some);

        /** Lets go of days before, and of subscriptions that are gone. */
        void forget(LocalDate before);
    }

    private record Key(String subscriptionId, long day) {}

    private static final class Counted {
        private final LongAdder admitted = new LongAdder();
        private final LongAdder limited = new LongAdder();
    }

    private static final int DAYS_KEPT = 400;
    private final Stored kept;
    private final Map<Key, Counted> counted = new ConcurrentHashMap<>();

    public Usage(Stored kept) {
        this.kept = kept;
    }

    @Override
    public void admitted(String subscriptionId, Instant at) {
        of(subscriptionId, at).admitted.increment();
    }

    @Override
    public void limited(String subscriptionId, Instant at) {
        of(subscriptionId, at).limited.increment();
    }

    /**
     * A quota of which much is used.
     *
     * @param percent 80 or 100
     * @param periodBegan when its day or month began
     */
    public record Nearing(String subscriptionId, Limits.Quota quota, int percent, Instant periodBegan) {}

    /** Once for each quota, period and level, as far as this process knows; whoever tells of it knows for certain. */
    private final Set<Nearing> nearing = ConcurrentHashMap.newKeySet();

    private final Queue<Nearing> untold = new ConcurrentLinkedQueue<>();

    @Override
    public void counted(String subscriptionId, Limits.Quota quota, Count count, Instant at) {
        long used = count.most() - count.remaining();
        if (used * 5 < count.most() * 4) return;
        Instant began = quota.period().begin(at);
        nears(new Nearing(subscriptionId, quota, 80, began));
        if (count.remaining() == 0) nears(new Nearing(subscriptionId, quota, 100, began));
    }

    private void nears(Nearing it) {
        if (nearing.add(it)) untold.add(it);
    }

    /** Takes what came about since: each is given once. */
    public List<Nearing> takeNearing() {
        List<Nearing> some = new ArrayList<>();
        for (Nearing it = untold.poll(); it != null; it = untold.poll()) some.add(it);
        return some;
    }

    private Counted of(String subscriptionId, Instant at) {
        return counted.computeIfAbsent(
                new Key(subscriptionId, Math.floorDiv(at.getEpochSecond(), 86_400L)), fresh -> new Counted());
    }

    /**
     * The days of a subscription, by day; those without a request are left out.
     *
     * @param from the first day
     */
    public List<Day> of(String subscriptionId, LocalDate from) {
        Map<LocalDate, Day> days = new TreeMap<>();
        for (Day it : kept.of(subscriptionId, from)) days.put(it.day(), it);
        counted.forEach((key, it) -> {
            LocalDate day = LocalDate.ofEpochDay(key.day());
            if (key.subscriptionId().equals(subscriptionId) && !day.isBefore(from))
                days.merge(day, new Day(subscriptionId, day, it.admitted.sum(), it.limited.sum()), Usage::sum);
        });
        return List.copyOf(days.values());
    }

    private static Day sum(Day one, Day two) {
        return new Day(one.subscriptionId(), one.day(), one.admitted() + two.admitted(), one.limited() + two.limited());
    }

    /** Keeps what was counted since. */
    public void flush() {
        List<Day> some = new ArrayList<>();
        counted.forEach((key, it) -> {
            long admitted = it.admitted.sumThenReset();
            long limited = it.limited.sumThenReset();
            if (admitted + limited > 0)
                some.add(new Day(key.subscriptionId(), LocalDate.ofEpochDay(key.day()), admitted, limited));
        });
        if (some.isEmpty()) return;
        try {
            kept.add(some);
        } catch (RuntimeException storeFault) {
            for (Day it : some) {
                Counted again = counted.computeIfAbsent(
                        new Key(it.subscriptionId(), it.day().toEpochDay()), fresh -> new Counted());
                again.admitted.add(it.admitted());
                again.limited.add(it.limited());
            }
            throw storeFault;
        }
    }

    /** Lets go of what is old. */
    public void forget(Instant now) {
        LocalDate today = now.atZone(ZoneOffset.UTC).toLocalDate();
        // A request that came before midnight may still be counted; of the days before, none is.
        counted.keySet().removeIf(key -> key.day() < today.toEpochDay() - 1);
        Instant before = now.minus(Duration.ofDays(32));
        nearing.removeIf(it -> it.periodBegan().isBefore(before));
        kept.forget(today.minusDays(DAYS_KEPT));
    }
}
