package dev.admit.core.gate;

import dev.admit.core.browser.SignInAtGate;
import dev.admit.core.clientauth.KnownClients;
import dev.admit.core.configuration.BrowserOrigins;
import dev.admit.core.configuration.Configuration;
import dev.admit.core.decision.Decision;
import dev.admit.core.decision.Endpoint;
import dev.admit.core.decision.Recorder;
import dev.admit.core.limit.Counters;
import dev.admit.core.limit.Quotas;
import dev.admit.core.plan.SubscriptionUse;
import dev.admit.core.plan.SubscriptionsInForce;
import dev.admit.core.token.BearerDoor;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CompletionStage;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/** Decides on requests that were never sent, by the very steps of the gateway, and leaves nothing behind. */
public final class TryRequest {
    private static final Quotas.Stored NOTHING_KEPT = new Quotas.Stored() {
        @Override
        public List<Quotas.Used> all() {
            return List.of();
        }

        @Override
        public void keep(List<Quotas.Used> some) {}

        @Override
        public void forget(Instant before) {}
    };

    private final Supplier<Configuration> configuration;
    private final BearerDoor door;
    private final BrowserOrigins origins;
    private final SignInAtGate signIn;
    private final SubscriptionsInForce subscriptions;
    private final KnownClients clients;
    private final Clock clock;

    public TryRequest(
            Supplier<Configuration> configuration,
            BearerDoor door,
            BrowserOrigins origins,
            SignInAtGate signIn,
            SubscriptionsInForce subscriptions,
            KnownClients clients,
            Clock clock) {
        this.configuration = configuration;
        this.door = door;
        this.origins = origins;
        this.signIn = signIn;
        this.subscriptions = subscriptions;
        this.clients = clients;
        this.clock = clock;
    }

    /**
     * @param host that it would be for; may be empty
     * @param path without or with a query
     * @param token null for none
     * @param from the address that it would come from
     */
    public Decision without(String method, String host, String path, @Nullable String token, String from) {
        int query = path.indexOf('?');
        GateRequest request = new GateRequest(
                method,
                host,
                query < 0 ? path : path.substring(0, query),
                query < 0 ? null : path.substring(query + 1),
                token == null || token.isBlank() ? List.of() : List.of("Bearer " + token.strip()),
                from,
                Optional.empty(),
                Map::of,
                () -> 0,
                () -> 0,
                GateRequest.Browser.NONE);
        // Counters of its own: the one who tries uses up nobody's room.
        Gate gate = new Gate(
                configuration,
                door,
                origins,
                signIn,
                new Counters(),
                new Quotas(NOTHING_KEPT),
                subscriptions,
                SubscriptionUse.NOT_KEPT,
                Long.MAX_VALUE);
        Recorder first = new Recorder(Endpoint.GATEWAY, clock.instant());
        if (!(gate.decide(request, first) instanceof GateOutcome.Waits(CompletionStage<?> stage)))
            return decided(first);
        stage.toCompletableFuture().exceptionally(broken -> null).join(); // bounded by the one who fetches
        Recorder again = new Recorder(Endpoint.GATEWAY, clock.instant());
        gate.decide(request, again);
        return decided(again);
    }

    private Decision decided(Recorder decision) {
        clients.find(decision.clientId())
                .ifPresent(known ->
                        decision.client(known.client().id(), known.client().name()));
        return decision.answered(
                decision.refusal().map(it -> it.reason().status()).orElse(200));
    }
}
