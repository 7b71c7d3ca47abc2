package dev.admit.core.subscription;

import dev.admit.core.change.Fields;
import dev.admit.core.plan.Plan;
import dev.admit.core.plan.Plans;
import dev.admit.core.plan.Subscription;
import dev.admit.core.plan.Subscriptions;
import dev.admit.core.plan.Usage;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.ClientSecret;
import dev.admit.core.registry.Clients;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Issuers;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.Optional;

/** Mails the owners of a client once when a quota is nearly used, and before a secret or an earlier plan ends. */
public final class TellOfUse {
    private static final Duration AHEAD = Duration.ofDays(14);

    private final Usage usage;
    private final Plans plans;
    private final Subscriptions subscriptions;
    private final Issuers issuers;
    private final Clients clients;
    private final TellSubscribers tell;
    private final Clock clock;

    public TellOfUse(
            Usage usage,
            Plans plans,
            Subscriptions subscriptions,
            Issuers issuers,
            Clients clients,
            TellSubscribers tell,
            Clock clock) {
        this.usage = usage;
        this.plans = plans;
        this.subscriptions = subscriptions;
        this.issuers = issuers;
        this.clients = clients;
        this.tell = tell;
        this.clock = clock;
    }

    /** A subscription with what people know it by. */
    private record Known(Subscription subscription, Issuer issuer, Client client, Plan plan) {}

    private Optional<Known> known(Subscription it) {
        return issuers.named(it.issuerId()).flatMap(issuer -> clients.named(issuer.id(), it.clientId())
                .flatMap(client -> plans.find(it.planId()).map(plan -> new Known(it, issuer, client, plan))));
    }

    /** Quotas of which 80 or 100 percent are used. */
    public void ofQuotas() {
        for (Usage.Nearing it : usage.takeNearing()) {
            String what = "quota %s %d %s".formatted(it.quota(), it.percent(), it.periodBegan());
            if (!subscriptions.isFirstNotice(it.subscriptionId(), what, clock.instant())) continue;
            subscriptions.find(it.subscriptionId()).flatMap(this::known).ifPresent(known -> quota(known, it));
        }
    }

    private void quota(Known it, Usage.Nearing of) {
        Instant ends = of.quota().period().end(clock.instant());
        tell.owners(
                it.issuer(),
                it.client(),
                "%s used %d %% of %s"
                        .formatted(it.client().name(), of.percent(), it.plan().name()),
                """
                The client %s has used %d %% of its quota in the plan %s, which is %s.

                %s It begins anew on %s.
                """.formatted(
                                it.client().name(),
                                of.percent(),
                                it.plan().name(),
                                of.quota(),
                                of.percent() == 100
                                        ? "Calls are refused until then."
                                        : "Once it is used up, calls are refused.",
                                ends.atZone(ZoneOffset.UTC).toLocalDate()));
    }

    /** Secrets and earlier plans that end within two weeks. */
    public void ofEnds() {
        Instant now = clock.instant();
        for (Subscription it : subscriptions.live()) known(it).ifPresent(known -> ends(known, now));
    }

    private void ends(Known it, Instant now) {
        it.plan()
                .earlier(it.subscription().onVersion())
                .map(Plan.Earlier::until)
                .filter(until -> isSoon(until, now))
                .filter(until -> isFirst(it, "plan version " + until, now))
                .ifPresent(until -> tell.owners(
                        it.issuer(),
                        it.client(),
                        "the plan %s changes for %s"
                                .formatted(it.plan().name(), it.client().name()),
                        "On %s the client %s goes over to what the plan %s is now. Look at it before then.%n"
                                .formatted(
                                        until.atZone(ZoneOffset.UTC).toLocalDate(),
                                        it.client().name(),
                                        it.plan().name())));
        for (ClientSecret secret : clients.secretsOf(it.client().id()))
            secret.expiresAt()
                    .filter(end -> isSoon(end, now))
                    .filter(end -> isFirst(it, "secret " + secret.id() + " " + end, now))
                    .ifPresent(end -> tell.owners(
                            it.issuer(),
                            it.client(),
                            "a secret of %s ends".formatted(it.client().name()),
                            "A secret of the client %s ends in %s. Make another one before then.%n"
                                    .formatted(it.client().name(), left(end, now))));
    }

    private static String left(Instant end, Instant now) {
        return Fields.written(
                Duration.ofDays(Math.max(1, Duration.between(now, end).toDays())));
    }

    private static boolean isSoon(Instant end, Instant now) {
        return now.isBefore(end) && end.isBefore(now.plus(AHEAD));
    }

    private boolean isFirst(Known it, String what, Instant now) {
        return subscriptions.isFirstNotice(it.subscription().id(), what, now);
    }
}
