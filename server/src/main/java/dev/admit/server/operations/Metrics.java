package dev.admit.server.operations;

import dev.admit.core.clientauth.KnownClients;
import dev.admit.core.decision.Decision;
import dev.admit.core.decision.KeepingRule;
import dev.admit.core.decision.Plane;
import dev.admit.core.decision.Reason;
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
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.TimeUnit;

/** What is counted and timed for Prometheus. Labels have few values: planes, issuers, verdicts and reasons, never a client, a person or a path. */
public final class Metrics implements AutoCloseable {
    private static final Duration[] BUCKETS = {Duration.ofMillis(1), Duration.ofMillis(5), Duration.ofMillis(10), Duration.ofMillis(25), Duration.ofMillis(50), Duration.ofMillis(100), Duration.ofMillis(250),
        Duration.ofMillis(500), Duration.ofSeconds(1), Duration.ofSeconds(5), Duration.ofSeconds(30)};

    /** @param reason null for admitted */
    private record Kind(Plane plane, String issuer, Reason reason) {}

    private final PrometheusMeterRegistry registry = new PrometheusMeterRegistry(PrometheusConfig.DEFAULT);
    private final Map<Kind, Counter> decisions = new ConcurrentHashMap<>();
    private final Map<Plane, Timer> requests = new ConcurrentHashMap<>();
    private final Map<Plane, Timer> deciding = new ConcurrentHashMap<>();
    private final JvmGcMetrics collections = new JvmGcMetrics();

    public Metrics(RememberedTokens tokens, KnownClients clients, KeepingRule kept) {
        Gauge.builder("admit.verified.tokens", tokens, RememberedTokens::remembered).description("Verified tokens that are remembered").register(registry);
        Gauge.builder("admit.known.clients", clients, KnownClients::remembered).description("Clients that are remembered").register(registry);
        FunctionCounter.builder("admit.decisions.not.kept", kept, KeepingRule::passedOver).description("Decisions that were counted and not kept whole").register(registry);
        new JvmMemoryMetrics().bindTo(registry);
        new JvmThreadMetrics().bindTo(registry);
        new ProcessorMetrics().bindTo(registry);
        collections.bindTo(registry);
    }

    /** To be called once for each decision, when the answer goes out. */
    public void saw(Decision.Builder decision) {
        Plane plane = decision.plane();
        decisions.computeIfAbsent(new Kind(plane, decision.issuer(), decision.refusal().map(it -> it.reason()).orElse(null)), this::counter).increment();
        requests.computeIfAbsent(plane, it -> timer("admit.requests", "From the request to the end of the answer, the upstream's time with it", it)).record(decision.elapsed(), TimeUnit.NANOSECONDS);
        deciding.computeIfAbsent(plane, it -> timer("admit.deciding", "What the decision alone took", it)).record(decision.deciding(), TimeUnit.NANOSECONDS);
    }

    private Counter counter(Kind kind) {
        return Counter.builder("admit.decisions").description("Decisions by verdict and reason").tag("plane", kind.plane().toString()).tag("issuer", kind.issuer())
                .tag("verdict", kind.reason() == null ? "admitted" : "refused").tag("reason", kind.reason() == null ? "" : kind.reason().toString()).register(registry);
    }

    private Timer timer(String name, String words, Plane plane) {
        return Timer.builder(name).description(words).tag("plane", plane.toString()).serviceLevelObjectives(BUCKETS).register(registry);
    }

    /** In the text format of Prometheus. */
    public String text() {
        return registry.scrape();
    }

    @Override public void close() {
        collections.close();
        registry.close();
    }
}
