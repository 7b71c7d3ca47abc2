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
 * The record of one request: what was asked, each check in order, and how it ended. Written alike at the token
 * endpoint, at the gateway and at the admin API.
 *
 * @param about who and what the request was about, as far as it was known
 * @param answered the HTTP status of the answer; a fault behind an admitted request shows here
 * @param done what was done to the request or the answer, as phrases
 * @param micros how long the decision took, without the upstream's time
 * @param took how long each check took, in nanoseconds; empty for what was kept before that was measured
 */
public record Decision(
        String id,
        Instant at,
        Endpoint endpoint,
        About about,
        List<CheckResult> checks,
        Verdict verdict,
        Optional<Refusal> refusal,
        int answered,
        List<String> done,
        long micros,
        List<Integer> took) {

    /** Who and what. Every text may be empty when the request did not get so far. */
    public record About(
            String issuer,
            String clientId,
            String clientName,
            String subject,
            String api,
            String route,
            long revision,
            String method,
            String path,
            String scopes,
            String from) {}

    /** The same, with another way to fix its refusal. */
    public Decision withFix(Fix fix) {
        return new Decision(
                id,
                at,
                endpoint,
                about,
                checks,
                verdict,
                refusal.map(it -> new Refusal(it.reason(), it.expected(), it.received(), fix)),
                answered,
                done,
                micros,
                took);
    }

    /** Gathers a decision while a request passes its steps. Used by one request, one step after the other. */
    public static final class Builder {
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

        public Builder(Endpoint endpoint, Instant at) {
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

        public Builder request(String method, String path, String from) {
            this.method = method;
            this.path = path;
            this.from = from;
            return this;
        }

        public Builder issuer(String name) {
            this.issuer = name;
            return this;
        }

        public Builder client(String id, String name) {
            this.clientId = id;
            this.clientName = name;
            return this;
        }

        public Builder subject(String subject) {
            this.subject = subject;
            return this;
        }

        public Builder scopes(String scopes) {
            this.scopes = scopes;
            return this;
        }

        public Builder api(String name) {
            this.api = name;
            return this;
        }

        public Builder route(String route, long revision) {
            this.route = route;
            this.revision = revision;
            return this;
        }

        /** Adds what a check found and hands it back, so that the flow can stop at a refusal. */
        public CheckResult add(CheckResult found) {
            CheckResult result = found instanceof CheckResult.Refused(String check, Refusal why)
                            && why.fix().command().isPresent()
                    ? new CheckResult.Refused(check, atIssuer(why))
                    : found;
            long now = System.nanoTime();
            if (checks.size() == took.length) took = Arrays.copyOf(took, 2 * took.length);
            took[checks.size()] = (int) Math.min(Integer.MAX_VALUE, now - checkedNanos);
            checkedNanos = now;
            checks.add(result);
            if (result instanceof CheckResult.Refused refused) refusal = refused.refusal();
            return result;
        }

        /** A command names the issuer that is meant. */
        private Refusal atIssuer(Refusal why) {
            return new Refusal(
                    why.reason(),
                    why.expected(),
                    why.received(),
                    named(why.fix()).at(issuer));
        }

        /** A command names the client as people do, where only its id was at hand. */
        private Fix named(Fix fix) {
            if (fix.command().isEmpty() || clientId.isEmpty() || clientName.isEmpty()) return fix;
            return new Fix(fix.sentence(), fix.command().map(it -> Command.named(it, clientId, clientName)), fix.who());
        }

        /** Something elsewhere must be known first; once it is, the request is to be decided on anew. */
        public void waitFor(CompletionStage<?> stage) {
            awaited = stage;
        }

        public Optional<CompletionStage<?>> awaited() {
            return Optional.ofNullable(awaited);
        }

        public Builder done(String phrase) {
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
         * What the decision itself took, in nanoseconds, without the upstream's time; all so far while it is not
         * decided.
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
        public Builder holdBack(Duration length) {
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
        public Builder decided() {
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
            About about =
                    new About(issuer, clientId, clientName, subject, api, route, revision, method, path, scopes, from);
            return new Decision(
                    id,
                    at,
                    endpoint,
                    about,
                    List.copyOf(checks),
                    refusal == null ? Verdict.ADMITTED : Verdict.REFUSED,
                    Optional.ofNullable(refusal),
                    answered,
                    List.copyOf(done),
                    micros,
                    Arrays.stream(took, 0, checks.size()).boxed().toList());
        }
    }
}
