package dev.admit.core.upstream;

import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Base64;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionStage;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.Executor;
import org.jspecify.annotations.Nullable;

/**
 * Upstream credentials ready to be presented. A token is fetched once for all who wait for it, kept, fetched anew when
 * four fifths of its life are over while the old one still serves, and fetched anew when an upstream refused it.
 */
public final class Presenting {
    private static final Duration AFTER_A_FAULT = Duration.ofSeconds(2);

    private final AskForToken ask;
    private final Executor elsewhere;
    private final Clock clock;
    private final Map<String, Ready> byId = new ConcurrentHashMap<>();

    /** @param elsewhere where a fetch may take its time */
    public Presenting(AskForToken ask, Executor elsewhere, Clock clock) {
        this.ask = ask;
        this.elsewhere = elsewhere;
        this.clock = clock;
    }

    /** A header as the upstream gets it. */
    public record Presented(String header, String value) {
        @Override
        public String toString() {
            return "Presented[" + header + ", hidden]";
        }
    }

    /** No credential could be had. */
    public static final class NotReady extends RuntimeException {
        NotReady(String why) {
            super(why, null, false, false);
        }
    }

    /**
     * One of them, made ready; the same for the same version of it.
     *
     * @param secret requested when it is made ready
     */
    public Ready of(UpstreamCredential it, java.util.function.Supplier<String> secret) {
        return byId.compute(
                it.id(),
                (id, there) -> there != null && there.credential.equals(it) ? there : new Ready(it, secret.get()));
    }

    /** What is the same each time; empty for a token, which is not. */
    Optional<Presented> fixed(UpstreamCredential.Shown shown, String secret) {
        return switch (shown) {
            case UpstreamCredential.Shown.Header(String name) -> Optional.of(new Presented(name, secret));
            case UpstreamCredential.Shown.Login(String user) ->
                Optional.of(new Presented(
                        "Authorization",
                        "Basic "
                                + Base64.getEncoder()
                                        .encodeToString((user + ":" + secret).getBytes(StandardCharsets.UTF_8))));
            case UpstreamCredential.Shown.Token token -> Optional.empty();
        };
    }

    AskForToken.Outcome tryOut(UpstreamCredential.Shown.Token how, String secret) {
        return ask.ask(how, secret);
    }

    public final class Ready {
        private final UpstreamCredential credential;
        private final String secret;
        private volatile @Nullable Held held;
        private @Nullable CompletableFuture<Presented> underWay;
        private Instant faultAt = Instant.MIN;
        private @Nullable String fault;

        private record Held(Presented presented, Instant renewAt, Instant endsAt) {}

        private Ready(UpstreamCredential credential, String secret) {
            this.credential = credential;
            this.secret = secret;
            this.held = fixed(credential.shown(), secret)
                    .map(it -> new Held(it, Instant.MAX, Instant.MAX))
                    .orElse(null);
        }

        public UpstreamCredential credential() {
            return credential;
        }

        /** @return at once where one is at hand. Fails with {@link NotReady} */
        public CompletionStage<Presented> present() {
            Held now = held;
            Instant at = clock.instant();
            if (now != null && at.isBefore(now.endsAt())) {
                if (!at.isBefore(now.renewAt())) fetch(at);
                return CompletableFuture.completedFuture(now.presented());
            }
            return fetch(at);
        }

        /**
         * The upstream refused this one.
         *
         * @return whether another may be had
         */
        public synchronized boolean refused(Presented it) {
            if (!(credential.shown() instanceof UpstreamCredential.Shown.Token)) return false;
            if (held != null && held.presented().equals(it)) held = null;
            return true;
        }

        private synchronized CompletionStage<Presented> fetch(Instant at) {
            if (underWay != null) return underWay;
            // The one who saw none a moment ago may come here after one was fetched.
            if (held != null && at.isBefore(held.renewAt())) return CompletableFuture.completedFuture(held.presented());
            if (at.isBefore(faultAt.plus(AFTER_A_FAULT)))
                return CompletableFuture.failedFuture(new NotReady(String.valueOf(fault)));
            CompletableFuture<Presented> fetching = CompletableFuture.supplyAsync(
                            () -> ask.ask((UpstreamCredential.Shown.Token) credential.shown(), secret), elsewhere)
                    .thenApply(this::settle);
            underWay = fetching;
            var unused = fetching.whenComplete((presented, broken) -> {
                synchronized (this) {
                    underWay = null;
                }
            });
            return fetching;
        }

        private synchronized Presented settle(AskForToken.Outcome outcome) {
            Optional<String> token = outcome.token();
            Instant now = clock.instant();
            if (token.isEmpty()) {
                faultAt = now;
                fault = outcome.fault().orElse("no token was received");
                throw new NotReady(String.valueOf(fault));
            }
            Presented presented = new Presented("Authorization", "Bearer " + token.get());
            held = new Held(
                    presented,
                    now.plus(outcome.life().multipliedBy(4).dividedBy(5)),
                    now.plus(outcome.life())
                            .minusSeconds(Math.min(5, outcome.life().toSeconds() / 2)));
            return presented;
        }

        @Override
        public String toString() {
            return "Ready[" + credential.name() + "]";
        }
    }
}
