package dev.admit.core.trust;

import java.text.ParseException;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionStage;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.Executor;
import java.util.concurrent.atomic.AtomicInteger;
import org.jspecify.annotations.Nullable;

/**
 * The keys of trusted issuers, in memory. They are looked for anew now and then, and when a token names one that is not
 * among them, but never more often than every ten seconds; what was found last counts until something else is found, so
 * that an issuer that is away stops no token whose key is known, not even over a restart.
 */
public final class TrustedKeys {
    private static final Duration BETWEEN = Duration.ofSeconds(10);
    private static final Duration OLD = Duration.ofMinutes(10);
    private static final int MOST_WAITING = 1_000;

    private final FindKeys find;
    private final TrustedIssuers kept;
    private final Executor elsewhere;
    private final Clock clock;
    private final Map<String, Live> byId = new ConcurrentHashMap<>();

    /** @param elsewhere where a fetch may take its time */
    public TrustedKeys(FindKeys find, TrustedIssuers kept, Executor elsewhere, Clock clock) {
        this.find = find;
        this.kept = kept;
        this.elsewhere = elsewhere;
        this.clock = clock;
    }

    /** Those of one trusted issuer; the same for the same version of it. */
    public Live of(TrustedIssuer it) {
        return byId.compute(it.id(), (id, there) -> there != null && there.issuer.equals(it) ? there : new Live(it));
    }

    /** To be called now and then: looks for the keys of all that were not looked for lately. */
    public void lookForOld() {
        Instant now = clock.instant();
        for (Live live : byId.values())
            if (live.lookedAt.isBefore(now.minus(OLD)) && live.looksElsewhere()) {
                var unused = live.look();
            }
    }

    /** To be called when a trusted issuer is gone. */
    public void forget(String id) {
        byId.remove(id);
    }

    /**
     * How the keys of one stand.
     *
     * @param fault of the last look; empty when it went well, or there was none
     */
    public record State(List<String> kids, Optional<Instant> foundAt, Optional<String> fault) {}

    public final class Live {
        private final TrustedIssuer issuer;
        private final AtomicInteger waiting = new AtomicInteger();
        private volatile Map<String, TheirKey> keys = Map.of();
        private volatile Instant lookedAt = Instant.EPOCH;
        private volatile Optional<Instant> foundAt = Optional.empty();
        private volatile Optional<String> fault = Optional.empty();
        private @Nullable CompletableFuture<FindKeys.Outcome> underWay;

        private Live(TrustedIssuer issuer) {
            this.issuer = issuer;
            if (issuer.keys() instanceof TrustedIssuer.Keys.Pasted(String jwks)) put(jwks, Optional.empty());
            else kept.found(issuer.id()).ifPresent(found -> put(found.jwks(), Optional.of(found.at())));
        }

        private void put(String jwks, Optional<Instant> at) {
            try {
                put(TheirKey.in(jwks, issuer.algorithms()));
                foundAt = at;
            } catch (ParseException unreadable) {
                fault = Optional.of("the keys that were kept cannot be read");
            }
        }

        /** A key that is still the same stays the same object, by which remembered tokens know that it holds. */
        private void put(List<TheirKey> found) {
            Map<String, TheirKey> fresh = new HashMap<>();
            for (TheirKey key : found) {
                TheirKey before = keys.get(key.kid());
                fresh.putIfAbsent(key.kid(), before != null && before.jwk().equals(key.jwk()) ? before : key);
            }
            keys = Map.copyOf(fresh);
        }

        /** @param kid null for a token that names none, which is good only where there is but one key */
        Optional<TheirKey> named(String kid) {
            Map<String, TheirKey> now = keys;
            if (kid == null) return now.size() == 1 ? now.values().stream().findFirst() : Optional.empty();
            return Optional.ofNullable(now.get(kid)).filter(it -> !kid.isEmpty());
        }

        @SuppressWarnings("ReferenceEquality") // the very key that was found
        boolean isGood(Object key) {
            return key instanceof TheirKey theirs && keys.get(theirs.kid()) == theirs;
        }

        boolean looksElsewhere() {
            return !(issuer.keys() instanceof TrustedIssuer.Keys.Pasted);
        }

        /** A look that is worth waiting for: empty when a person looked just now, or too many wait already. */
        Optional<CompletionStage<?>> lookWhereWorthWhile(Instant now) {
            if (!looksElsewhere()) return Optional.empty();
            synchronized (this) {
                if (underWay == null && now.isBefore(lookedAt.plus(BETWEEN))) return Optional.empty();
            }
            if (waiting.incrementAndGet() > MOST_WAITING) {
                waiting.decrementAndGet();
                return Optional.empty();
            }
            return Optional.of(look().whenComplete((outcome, broken) -> waiting.decrementAndGet()));
        }

        /**
         * Looks for the keys, or joins the one who does. What is found is kept and counts; what is not leaves those
         * that are known.
         */
        public synchronized CompletableFuture<FindKeys.Outcome> look() {
            if (underWay != null) return underWay;
            lookedAt = clock.instant();
            CompletableFuture<FindKeys.Outcome> looking = CompletableFuture.supplyAsync(
                            () -> find.of(issuer), elsewhere)
                    .thenApply(this::settle);
            underWay = looking;
            var unused = looking.whenComplete((outcome, broken) -> {
                synchronized (this) {
                    underWay = null;
                }
            });
            return looking;
        }

        private FindKeys.Outcome settle(FindKeys.Outcome outcome) {
            fault = outcome.fault();
            if (outcome.jwks().isPresent()) {
                put(outcome.keys());
                if (looksElsewhere()) {
                    foundAt = Optional.of(clock.instant());
                    kept.keep(
                            issuer.id(), new TrustedIssuers.Found(outcome.jwks().get(), foundAt.get()));
                }
            }
            return outcome;
        }

        public State state() {
            return new State(new ArrayList<>(keys.keySet()).stream().sorted().toList(), foundAt, fault);
        }
    }
}
