package dev.admit.server.operations;

import dev.admit.core.clientauth.KnownClients;
import dev.admit.core.decision.Endpoint;
import dev.admit.core.decision.KeepingRule;
import dev.admit.core.decision.Reason;
import dev.admit.core.decision.Recorder;
import dev.admit.core.token.RememberedTokens;
import io.micrometer.core.instrument.Counter;
import io.micrometer.core.instrument.FunctionCounter;
import io.micrometer.core.instrument.Gauge;
import io.micrometer.core.instrument.Timer;
import io.micrometer.core.instrument.binder.jvm.JvmGcMetrics;
import io.micrometer.core.instrument.binder.jvm.JvmMemoryMetrics;
import io.micrometer.core.instrument.binder.jvm.JvmThreadMetrics;
import io.micrometer.core.instrument.binder.system.ProcessorMetrics;
import io.micrometer.prometheusmetrics.PrometheusConfig;
import io.micrometer.prometheusmetrics.PrometheusMeterRegistry;
import java.time.Duration;
import java.util.Arrays;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.TimeUnit;
import org.jspecify.annotations.Nullable;

/**
 * What is counted and timed for Prometheus. Labels have few values: endpoints, issuers, verdicts and reasons, never a
 * client, a person or a path.
 */
public final class Metrics implements AutoCloseable {
    private static final Duration[] BUCKETS = {
        Duration.ofMillis(1),
        Duration.ofMillis(5),
        Duration.ofMillis(10),
        Duration.ofMillis(25),
        Duration.ofMillis(50),
        Duration.ofMillis(100),
        Duration.ofMillis(250),
        Duration.ofMillis(500),
        Duration.ofSeconds(1),
        Duration.ofSeconds(5),
        Duration.ofSeconds(30)
    };

    private static final Endpoint[] ENDPOINTS = Endpoint.values();
    private static final int KINDS = Reason.values().length + 1;

    private final PrometheusMeterRegistry registry = new PrometheusMeterRegistry(PrometheusConfig.DEFAULT);
    /**
     * By issuer; within one by endpoint, and there by reason with the admitted first. Looked up for every request, so
     * it makes nothing.
     */
    private final Map<String, Counter[]> decisions = new ConcurrentHashMap<>();

    private final Timer[] requests =
            timers("admit.requests", "From the request to the end of the answer, the upstream's time with it");
    private final Timer[] deciding = timers("admit.deciding", "What the decision alone took");
    private final JvmGcMetrics collections = new JvmGcMetrics();

    public Metrics(RememberedTokens tokens, KnownClients clients, KeepingRule kept) {
        Gauge.builder("admit.verified.tokens", tokens, RememberedTokens::remembered)
                .description("Verified tokens that are remembered")
                .register(registry);
        Gauge.builder("admit.known.clients", clients, KnownClients::remembered)
                .description("Clients that are remembered")
                .register(registry);
        FunctionCounter.builder("admit.decisions.not.kept", kept, KeepingRule::passedOver)
                .description("Decisions that were counted and not kept whole")
                .register(registry);
        new JvmMemoryMetrics().bindTo(registry);
        new JvmThreadMetrics().bindTo(registry);
        new ProcessorMetrics().bindTo(registry);
        collections.bindTo(registry);
    }

    /** To be called once for each decision, when the answer goes out. */
    @SuppressWarnings("EnumOrdinal") // an index of arrays that are made in this process
    public void saw(Recorder decision) {
        Endpoint endpoint = decision.endpoint();
        Reason reason =
                decision.refusal().isPresent() ? decision.refusal().get().reason() : null;
        Counter[] ofIssuer =
                decisions.computeIfAbsent(decision.issuer(), fresh -> new Counter[ENDPOINTS.length * KINDS]);
        int at = endpoint.ordinal() * KINDS + (reason == null ? 0 : reason.ordinal() + 1);
        if (ofIssuer[at] == null)
            ofIssuer[at] = counter(endpoint, decision.issuer(), reason); // two that race are given the same one
        ofIssuer[at].increment();
        requests[endpoint.ordinal()].record(decision.elapsed(), TimeUnit.NANOSECONDS);
        deciding[endpoint.ordinal()].record(decision.deciding(), TimeUnit.NANOSECONDS);
    }

    /** @param reason null for admitted */
    private Counter counter(Endpoint endpoint, String issuer, @Nullable Reason reason) {
        return Counter.builder("admit.decisions")
                .description("Decisions by verdict and reason")
                .tag("endpoint", endpoint.toString())
                .tag("issuer", issuer)
                .tag("verdict", reason == null ? "admitted" : "refused")
                .tag("reason", reason == null ? "" : reason.toString())
                .register(registry);
    }

    private Timer[] timers(String name, String words) {
        return Arrays.stream(ENDPOINTS)
                .map(endpoint -> Timer.builder(name)
                        .description(words)
                        .tag("endpoint", endpoint.toString())
                        .serviceLevelObjectives(BUCKETS)
                        .register(registry))
                .toArray(Timer[]::new);
    }

    /** In the text format of Prometheus. */
    public String text() {
        return registry.scrape();
    }

    @Override
    public void close() {
        collections.close();
        registry.close();
    }
}
