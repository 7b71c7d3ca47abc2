package dev.admit.core.decision;

import dev.admit.core.change.Ids;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CompletionStage;
import org.jspecify.annotations.Nullable;

/**
 * Writes one request's decision while the request passes the stages of its line: the stages return what they found, the
 * line hands it over. Used by one request, one stage after the other.
 */
public final class Recorder {
    private final String id;
    private final Instant at;
    private final Endpoint endpoint;
    private final long startedNanos = System.nanoTime();
    private long micros = -1;
    private final List<CheckResult> checks = new ArrayList<>(12);
    private int[] took = new int[12];
    private long checkedNanos = startedNanos;
    private final List<String> done = new ArrayList<>(2);
    private @Nullable Refusal refusal;
    private @Nullable CompletionStage<?> awaited;
    private Duration heldBack = Duration.ZERO;
    private String issuer = "";
    private String clientId = "";
    private String clientName = "";
    private String subject = "";
    private String api = "";
    private String route = "";
    private long revision;
    private String method = "";
    private String path = "";
    private String scopes = "";
    private String from = "";

    public Recorder(Endpoint endpoint, Instant at) {
        this.endpoint = endpoint;
        this.at = at;
        this.id = Ids.timeOrdered("dec_", at.toEpochMilli());
    }

    public String id() {
        return id;
    }

    public Instant at() {
        return at;
    }

    public Endpoint endpoint() {
        return endpoint;
    }

    public Recorder request(String method, String path, String from) {
        this.method = method;
        this.path = path;
        this.from = from;
        return this;
    }

    public Recorder issuer(String name) {
        this.issuer = name;
        return this;
    }

    public Recorder client(String id, String name) {
        this.clientId = id;
        this.clientName = name;
        return this;
    }

    public Recorder subject(String subject) {
        this.subject = subject;
        return this;
    }

    public Recorder scopes(String scopes) {
        this.scopes = scopes;
        return this;
    }

    public Recorder api(String name) {
        this.api = name;
        return this;
    }

    public Recorder route(String route, long revision) {
        this.route = route;
        this.revision = revision;
        return this;
    }

    /**
     * Writes down the result of a stage.
     *
     * @return what it found; null where the line ends here, because a check refused or something must be known first
     */
    public <T> @Nullable T take(Checked<T> result) {
        return switch (result) {
            case Checked.Passed<T>(T found, List<CheckResult> looked) -> {
                for (CheckResult check : looked) add(check);
                yield found;
            }
            case Checked.Refused<T>(CheckResult.Refused check, Duration wait) -> {
                add(check);
                heldBack = wait;
                yield null;
            }
            case Checked.Waits<T>(CompletionStage<?> stage, CheckResult.Refused meanwhile) -> {
                awaited = stage;
                add(meanwhile);
                yield null;
            }
        };
    }

    /** Writes down what a check found. Whether the line goes on. */
    public boolean passes(CheckResult found) {
        return !(add(found) instanceof CheckResult.Refused);
    }

    /** Adds what a check found and hands it back, so that the flow can stop at a refusal. */
    public CheckResult add(CheckResult found) {
        CheckResult result = here(found);
        long now = System.nanoTime();
        if (checks.size() == took.length) took = Arrays.copyOf(took, 2 * took.length);
        took[checks.size()] = (int) Math.min(Integer.MAX_VALUE, now - checkedNanos);
        checkedNanos = now;
        checks.add(result);
        if (result instanceof CheckResult.Refused refused) refusal = refused.refusal();
        return result;
    }

    /**
     * Writes down what a check found that is looked at besides, after another one refused: that one stays the reason.
     */
    public void also(Checked<?> found) {
        Refusal why = refusal;
        switch (found) {
            case Checked.Passed<?>(Object nothing, List<CheckResult> looked) -> looked.forEach(this::add);
            case Checked.Refused<?>(CheckResult.Refused check, Duration wait) -> add(check);
            case Checked.Waits<?> waits -> throw new IllegalStateException("nobody waits for what is told besides");
        }
        refusal = why;
    }

    private CheckResult here(CheckResult check) {
        return check instanceof CheckResult.Refused(String name, Refusal why)
                ? new CheckResult.Refused(name, here(why))
                : check;
    }

    /** What would fix it is done at the issuer that is meant, and on the client as people know it. */
    private Refusal here(Refusal why) {
        if (why.fix().action().isEmpty()) return why;
        Action at = why.fix().action().get().at(issuer);
        Action named = clientId.isEmpty() || clientName.isEmpty() ? at : at.named(clientId, clientName);
        return new Refusal(
                why.reason(), why.expected(), why.received(), why.fix().by(named));
    }

    /** Whether something elsewhere must be known first; once it is, the request is to be decided on anew. */
    public boolean isWaiting() {
        return awaited != null;
    }

    public Optional<CompletionStage<?>> awaited() {
        return Optional.ofNullable(awaited);
    }

    public Recorder done(String phrase) {
        done.add(phrase);
        return this;
    }

    public String issuer() {
        return issuer;
    }

    /** Since the request came, in nanoseconds. */
    public long elapsed() {
        return System.nanoTime() - startedNanos;
    }

    /**
     * What the decision itself took, in nanoseconds, without the upstream's time; all so far while it is not decided.
     */
    public long deciding() {
        return micros < 0 ? elapsed() : micros * 1000;
    }

    public String clientName() {
        return clientName;
    }

    public String api() {
        return api;
    }

    public String clientId() {
        return clientId;
    }

    public String from() {
        return from;
    }

    /** The answer is to wait so long, to slow the one who guesses. */
    public Recorder holdBack(Duration length) {
        heldBack = length;
        return this;
    }

    public Duration heldBack() {
        return heldBack;
    }

    public Optional<Refusal> refusal() {
        return Optional.ofNullable(refusal);
    }

    /** Stops the clock: what follows is the upstream's time. */
    public Recorder decided() {
        micros = (System.nanoTime() - startedNanos) / 1000;
        return this;
    }

    /**
     * The finished record.
     *
     * @param answered the HTTP status of the answer
     */
    public Decision answered(int answered) {
        if (micros < 0) decided();
        Decision.About about = new Decision.About(
                issuer, clientId, clientName, subject, api, route, revision, method, path, scopes, from);
        return new Decision(
                id,
                at,
                endpoint,
                about,
                // The client's name may have been found only after a check refused.
                refusal == null
                        ? List.copyOf(checks)
                        : checks.stream().map(this::here).toList(),
                refusal == null ? Verdict.ADMITTED : Verdict.REFUSED,
                Optional.ofNullable(refusal).map(this::here),
                answered,
                List.copyOf(done),
                micros,
                Arrays.stream(took, 0, checks.size()).boxed().toList());
    }
}
