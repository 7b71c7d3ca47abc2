package dev.admit.core.subscription;

import dev.admit.core.change.Actor;
import dev.admit.core.decision.Command;
import dev.admit.core.mail.MailCount;
import dev.admit.core.mail.WriteMail;
import dev.admit.core.owner.Owned;
import dev.admit.core.owner.Owner;
import dev.admit.core.owner.Owners;
import dev.admit.core.plan.Plan;
import dev.admit.core.plan.Plans;
import dev.admit.core.plan.Subscription;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Apis;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.Clients;
import dev.admit.core.registry.Issuer;
import java.time.Clock;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/** Mails those who own an API of a plan, or a client that is subscribed: few to one address. */
public final class TellSubscribers {
    private static final int MOST_TO_ADDRESS = 20;

    private final Owners owners;
    private final Apis apis;
    private final Clients clients;
    private final Plans plans;
    private final WriteMail mail;
    private final Clock clock;
    private final MailCount sent = new MailCount();

    public TellSubscribers(Owners owners, Apis apis, Clients clients, Plans plans, WriteMail mail, Clock clock) {
        this.owners = owners;
        this.apis = apis;
        this.clients = clients;
        this.plans = plans;
        this.mail = mail;
        this.clock = clock;
    }

    /**
     * Tells of what just became of a subscription: those who are to approve it, or those who own the client.
     *
     * @param by who is not told what they know
     */
    public void that(Issuer issuer, Subscription now, Actor by) {
        Optional<Client> client = clients.named(issuer.id(), now.clientId());
        Optional<Plan> plan =
                plans.find(now.moving().map(Subscription.Moving::planId).orElse(now.planId()));
        if (client.isEmpty() || plan.isEmpty()) return;
        if (now.status() == Subscription.Status.WAITING || now.moving().isPresent())
            waits(issuer, client.get(), plan.get(), by);
        else if (now.decided().isPresent())
            owners(
                    issuer,
                    client.get(),
                    "the subscription of %s to %s"
                            .formatted(client.get().name(), plan.get().name()),
                    "The subscription of the client %s to the plan %s is %s now%s, by %s.%n"
                            .formatted(
                                    client.get().name(),
                                    plan.get().name(),
                                    now.status(),
                                    now.reason().isEmpty() ? "" : ": " + now.reason(),
                                    by.name()),
                    Optional.of(by));
    }

    private void waits(Issuer issuer, Client client, Plan plan, Actor by) {
        Set<String> addresses = new LinkedHashSet<>();
        for (String apiId : plan.content().apiIds())
            apis.named(issuer.id(), apiId).stream()
                    .flatMap(api -> owners.of(Owned.of(api)).stream())
                    .filter(owner -> !owner.personId().equals(by.id()))
                    .forEach(owner -> addresses.add(owner.email()));
        String names = plan.content().apiIds().stream()
                .flatMap(id -> apis.named(issuer.id(), id).stream())
                .map(Api::name)
                .collect(Collectors.joining(", "));
        write(
                issuer,
                List.copyOf(addresses),
                "%s: %s requests the plan %s".formatted(issuer.title(), client.name(), plan.name()),
                """
                %s requests a subscription of the client %s (%s) to the plan %s, which covers calls of %s.

                Say yes with

                    %s

                or no with  admit subscription decline.  Nothing passes by requesting.
                """.formatted(
                        by.name(),
                        client.name(),
                        client.clientName(),
                        plan.name(),
                        names,
                        Command.at(issuer.name(), Command.of("subscription", "approve", client.name(), plan.name()))));
    }

    /** Tells those who own the client. */
    void owners(Issuer issuer, Client client, String subject, String text) {
        owners(issuer, client, subject, text, Optional.empty());
    }

    private void owners(Issuer issuer, Client client, String subject, String text, Optional<Actor> but) {
        write(
                issuer,
                owners.of(Owned.of(client)).stream()
                        .filter(it ->
                                but.filter(by -> by.id().equals(it.personId())).isEmpty())
                        .map(Owner::email)
                        .toList(),
                "%s: %s".formatted(issuer.title(), subject),
                text);
    }

    private void write(Issuer issuer, List<String> addresses, String subject, String text) {
        for (String address : addresses)
            if (sent.isWithin(MOST_TO_ADDRESS, issuer.id() + " " + address))
                mail.write(issuer, address, subject, text, clock.instant());
    }
}
