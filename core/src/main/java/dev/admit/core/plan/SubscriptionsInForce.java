package dev.admit.core.plan;

import dev.admit.core.change.Republish;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Supplier;

/**
 * The live subscriptions by client, held in memory for the gateway. A change reads anew what it touched before it is
 * answered, so that a pause holds from the next request on.
 */
public final class SubscriptionsInForce implements Republish.Held {
    private final Plans plans;
    private final Subscriptions subscriptions;
    private final Map<String, List<Held>> byClient = new ConcurrentHashMap<>();
    private final ThreadLocal<Boolean> held = new ThreadLocal<>();

    public SubscriptionsInForce(Plans plans, Subscriptions subscriptions) {
        this.plans = plans;
        this.subscriptions = subscriptions;
        republish();
    }

    /** A subscription with its plan. */
    public record Held(Subscription subscription, Plan plan) {
        /** What it is good for at a time. */
        public Plan.Content contentAt(Instant at) {
            return plan.contentAt(subscription.onVersion(), at);
        }

        public boolean isActive() {
            return subscription.status() == Subscription.Status.ACTIVE;
        }
    }

    /** The widest first, so that a client that has two plans for one call is counted on that with more room. */
    private static final Comparator<Held> WIDEST_FIRST = Comparator.<Held>comparingDouble(
                    it -> it.plan().content().rates().stream()
                            .mapToDouble(rate ->
                                    rate.requests() / (double) rate.per().toMillis())
                            .min()
                            .orElse(Double.MAX_VALUE))
            .reversed()
            .thenComparing(it -> it.plan().name());

    /** Those of a client that are live, the widest first. */
    public List<Held> of(String clientId) {
        return byClient.getOrDefault(clientId, List.of());
    }

    /** The most that a new secret of a client may last; empty for any. */
    public Optional<Duration> longestSecret(String clientId, Instant at) {
        return of(clientId).stream()
                .filter(Held::isActive)
                .flatMap(it -> it.contentAt(at).secretLifetime().stream())
                .min(Comparator.naturalOrder());
    }

    /** Reads anew what a client has. */
    public synchronized void refresh(String clientId) {
        if (held.get() != null) return;
        put(clientId, subscriptions.ofClient(clientId), new HashMap<>());
    }

    /** Reads all of it anew. */
    @Override
    public synchronized void republish() {
        if (held.get() != null) return;
        Map<String, List<Subscription>> all = new HashMap<>();
        for (Subscription it : subscriptions.live())
            all.computeIfAbsent(it.clientId(), fresh -> new ArrayList<>()).add(it);
        byClient.keySet().retainAll(all.keySet());
        Map<String, Optional<Plan>> read = new HashMap<>();
        all.forEach((client, its) -> put(client, its, read));
    }

    private void put(String clientId, List<Subscription> its, Map<String, Optional<Plan>> read) {
        List<Held> live = its.stream()
                .filter(it -> it.status().isLive())
                .flatMap(it -> Objects.requireNonNull(read.computeIfAbsent(it.planId(), plans::find)).stream()
                        .map(plan -> new Held(it, plan)))
                .sorted(WIDEST_FIRST)
                .toList();
        if (live.isEmpty()) byClient.remove(clientId);
        else byClient.put(clientId, live);
    }

    @Override
    public <T> T held(Supplier<T> work) {
        held.set(true);
        try {
            return work.get();
        } finally {
            held.remove();
        }
    }
}
