package dev.admit.server.operations;

import dev.admit.core.audit.AuditLine;
import dev.admit.core.audit.AuditTrail;
import dev.admit.core.change.Page;
import dev.admit.core.decision.Recorder;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Issuers;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ArrayBlockingQueue;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.TimeUnit;
import java.util.function.Function;
import java.util.function.Predicate;
import java.util.stream.Collectors;

/**
 * Tells the one who looks on what has changed, so that they need not ask again and again. What it tells is read from
 * the audit as it was committed: nobody hears of a change that another reading would not show yet. It says what kind of
 * thing changed, never how.
 */
public final class LiveFeed {
    private static final int MOST_ONLOOKERS = 500;
    private static final int MOST_LINES = 200;
    private static final int WAITING = 100;
    private static final int MOST_DECIDED = 1_000;

    /**
     * One line of the audit.
     *
     * @param what such as client.changed
     * @param on the name of the thing
     * @param who changed it
     */
    public record Told(String what, String on, String who) {}

    /** What decisions were about; empty where that was not known. */
    public record Decided(String api, String clientId) {}

    /** What came at one issuer since the last time: changes, or decisions. */
    public record Event(String issuer, List<Told> told, Set<Decided> decided) {
        public boolean isOfDecisions() {
            return told.isEmpty();
        }

        public Set<String> what() {
            return each(Told::what);
        }

        public Set<String> on() {
            return each(Told::on);
        }

        public Set<String> who() {
            return each(Told::who);
        }

        private Set<String> each(Function<Told, String> member) {
            return told.stream().map(member).collect(Collectors.toCollection(LinkedHashSet::new));
        }

        /** What of it a person may hear; empty for nothing. */
        public Optional<Event> narrowed(Predicate<Told> mayHear, Predicate<Decided> mayHearOf) {
            List<Told> theirs = told.stream().filter(mayHear).toList();
            return theirs.isEmpty() && decided.stream().noneMatch(mayHearOf)
                    ? Optional.empty()
                    : Optional.of(new Event(issuer, theirs, Set.of()));
        }
    }

    /**
     * One who looks on. An onlooker who takes nothing misses events, not memory; the end of the queue tells to look at
     * everything anew.
     */
    public static final class Onlooker {
        private final BlockingQueue<Event> events = new ArrayBlockingQueue<>(WAITING);

        /** @return null when nothing came for so long */
        public Event next(long millis) throws InterruptedException {
            return events.poll(millis, TimeUnit.MILLISECONDS);
        }
    }

    private final AuditTrail trail;
    private final Issuers issuers;
    private final List<Onlooker> onlookers = new CopyOnWriteArrayList<>();
    /** By issuer, what its decisions were about. */
    private final Map<String, Set<Decided>> decided = new ConcurrentHashMap<>();

    private final Map<String, Long> seen = new HashMap<>();

    public LiveFeed(AuditTrail trail, Issuers issuers) {
        this.trail = trail;
        this.issuers = issuers;
    }

    /** @return empty when too many look on already */
    public synchronized Optional<Onlooker> join() {
        if (onlookers.size() >= MOST_ONLOOKERS) return Optional.empty();
        if (onlookers.isEmpty()) issuers.all().forEach(it -> seen.put(it.id(), lastOf(it)));
        Onlooker onlooker = new Onlooker();
        onlookers.add(onlooker);
        return Optional.of(onlooker);
    }

    public void leave(Onlooker onlooker) {
        onlookers.remove(onlooker);
    }

    private long lastOf(Issuer issuer) {
        return trail.list(issuer.id(), AuditTrail.Filter.ALL, new Page.Ask(Optional.empty(), 1)).items().stream()
                .mapToLong(AuditLine::seq)
                .findFirst()
                .orElse(0);
    }

    void saw(Recorder decision) {
        if (onlookers.isEmpty()) return;
        Set<Decided> its = decided.computeIfAbsent(decision.issuer(), fresh -> ConcurrentHashMap.newKeySet());
        if (its.size() < MOST_DECIDED) its.add(new Decided(decision.api(), decision.clientId()));
    }

    /**
     * Tells what came since the last time. Called again and again by the one who keeps house; costs nothing while
     * nobody looks on.
     */
    public synchronized void tell() {
        if (onlookers.isEmpty()) return;
        List<Event> events = new ArrayList<>();
        for (Issuer issuer : issuers.all()) {
            List<AuditLine> lines = trail.following(issuer.id(), seen.getOrDefault(issuer.id(), 0L), MOST_LINES);
            if (lines.isEmpty()) continue;
            seen.put(issuer.id(), lines.getLast().seq());
            events.add(new Event(
                    issuer.name(),
                    lines.stream()
                            .map(line -> new Told(line.what(), line.on(), line.who()))
                            .toList(),
                    Set.of()));
        }
        for (String issuer : List.copyOf(decided.keySet()))
            events.add(new Event(issuer, List.of(), decided.remove(issuer)));
        for (Onlooker it : onlookers) events.forEach(it.events::offer);
    }
}
