package dev.admit.core.setup;

import dev.admit.contract.ClientWanted;
import dev.admit.contract.SubscriptionWanted;
import dev.admit.core.approval.Approval;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Expected;
import dev.admit.core.change.FieldFault;
import dev.admit.core.change.Fields;
import dev.admit.core.change.Known;
import dev.admit.core.owner.Owned;
import dev.admit.core.plan.Plan;
import dev.admit.core.plan.Subscription;
import dev.admit.core.registration.ClientRegistration;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Scope;
import java.time.Clock;
import java.time.Instant;
import java.time.format.DateTimeParseException;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** Loads the clients of a setup file, with their requests. */
final class LoadClients {
    private final LoadSetup.UseCases use;
    private final LoadSetup.Records records;
    private final SetupSteps steps;
    private final LoadOwners owners;
    private final Map<String, String> secrets;
    private final Actor by;
    private final Clock clock;

    LoadClients(
            LoadSetup.UseCases use,
            LoadSetup.Records records,
            SetupSteps steps,
            LoadOwners owners,
            Map<String, String> secrets,
            Actor by,
            Clock clock) {
        this.use = use;
        this.records = records;
        this.steps = steps;
        this.owners = owners;
        this.secrets = secrets;
        this.by = by;
        this.clock = clock;
    }

    void load(Issuer issuer, String name, Setup.@Nullable ClientPart said) {
        String at = "/clients/" + SetupSteps.escaped(name);
        Setup.ClientPart part = said == null ? Setup.ClientPart.NOTHING : said;
        Optional<Client> before = records.clients().named(issuer.id(), name);
        ClientWanted wanted = new ClientWanted(
                before.isPresent() ? null : name,
                part.clientName(),
                part.description(),
                part.kind(),
                part.tokenEndpointAuthMethod(),
                part.contacts(),
                part.links(),
                part.tags(),
                part.redirectUris(),
                part.origins(),
                part.grantTypes(),
                part.openidScopes(),
                part.jwks(),
                part.jwksUri(),
                part.tokenEndpointAuthSigningAlg(),
                part.secondFactor(),
                part.idTokenSignedResponseAlg(),
                part.postLogoutRedirectUris(),
                part.mayIntrospect(),
                null,
                part.secret() == null ? null : part.secret().lifetime(),
                part.clientId());
        Optional<Client> after;
        if (before.isPresent()) {
            after = steps.settle(at, use.clients().change(issuer, name, wanted, Expected.ANY, by));
        } else {
            Optional<ClientRegistration.Registered> registered =
                    steps.settle(at, use.clients().register(issuer, wanted, by));
            boolean granted = secrets.containsKey(name);
            if (!granted)
                registered.ifPresent(
                        it -> it.secret().ifPresent(secret -> steps.made(new SetupOutcome.Made(it.client(), secret))));
            after = registered.map(ClientRegistration.Registered::client);
        }
        if (after.isEmpty()) return;
        steps.step("client " + name, before, after.get());
        owners.load(issuer, at, Owned.of(after.get()), part.owners());
        if (secrets.containsKey(name)) secret(issuer, at, name, part, before.isEmpty());
        SetupSteps.orNone(part.scopes())
                .forEach((scope, standing) ->
                        request(issuer, at + "/scopes/" + SetupSteps.escaped(scope), after.get(), scope, standing));
        SetupSteps.orNone(part.subscriptions())
                .forEach((plan, standing) -> subscribe(
                        issuer, at + "/subscriptions/" + SetupSteps.escaped(plan), after.get(), plan, standing));
        if (part.openidGranted() != null
                && part.openidGranted() != after.get().people().openidGranted()) {
            steps.settle(at + "/openid_granted", use.clients().grantOpenid(issuer, name, part.openidGranted(), by))
                    .filter(it -> before.isPresent())
                    .ifPresent(it -> steps.step("client " + name, after, it));
        }
        if (part.enabled() != null && part.enabled() != after.get().enabled()) {
            steps.settle(at, use.clients().switchTo(issuer, name, part.enabled(), Expected.ANY, by))
                    .ifPresent(it -> steps.step("client " + name, after, it));
        }
    }

    private void subscribe(Issuer issuer, String at, Client client, String planName, @Nullable String said) {
        String word = said == null ? "active" : said.strip();
        if (!List.of("waiting", "active", "paused").contains(word)) {
            steps.fault(at, "waiting, active or paused", Fields.quoted(word), "Choose one of them.");
            return;
        }
        Optional<Plan> plan = records.plans().named(issuer.id(), planName);
        if (plan.isEmpty()) {
            steps.fault(at, "a plan of this issuer", Fields.quoted(planName), "Say it under plans, or correct it.");
            return;
        }
        Optional<Subscription> before = live(client).stream()
                .filter(it -> it.planId().equals(plan.get().id()))
                .findFirst();
        // The file speaks for whoever loads it, who has the terms before them.
        Long terms = plan.get().terms().wantAcceptance() ? plan.get().terms().version() : null;
        Optional<Subscription> now = before.isPresent()
                ? before
                : steps.settle(
                        at, use.subscribing().request(issuer, client, new SubscriptionWanted(planName, terms), by));
        if (now.filter(it -> it.status() == Subscription.Status.WAITING).isPresent() && !word.equals("waiting"))
            now = steps.settle(at, use.subscribing().approve(issuer, now.get().id(), planName, by, Expected.ANY));
        if (now.filter(it -> it.status() == Subscription.Status.PAUSED).isPresent() && word.equals("active"))
            now = steps.settle(at, use.subscribing().resume(issuer, now.get().id(), by, Expected.ANY));
        if (now.filter(it -> it.status() == Subscription.Status.ACTIVE).isPresent() && word.equals("paused"))
            now = steps.settle(
                    at, use.subscribing().pause(issuer, now.get().id(), "The setup file says so", by, Expected.ANY));
        now.ifPresent(it -> steps.step("subscription of %s to %s".formatted(client.name(), planName), before, it));
    }

    private List<Subscription> live(Client client) {
        return records.subscriptions().ofClient(client.id()).stream()
                .filter(it -> it.status().isLive())
                .toList();
    }

    /** Ends what the file does not list. */
    void endRest(Issuer issuer, Client client, Setup.ClientPart part) {
        for (Subscription it : live(client)) {
            String plan = records.plans().find(it.planId()).map(Plan::name).orElse(it.planId());
            if (!SetupSteps.orNone(part.subscriptions()).containsKey(plan))
                steps.removed(
                        "subscription of %s to %s".formatted(client.name(), plan),
                        use.subscribing().end(issuer, it.id(), null, by, Expected.ANY));
        }
    }

    private void secret(Issuer issuer, String at, String name, Setup.ClientPart part, boolean fresh) {
        steps.settle(
                        at + "/secret",
                        use.clients()
                                .giveSecret(
                                        issuer,
                                        name,
                                        Known.in(secrets, name),
                                        part.secret() == null
                                                ? null
                                                : part.secret().lifetime(),
                                        fresh,
                                        by))
                .filter(added -> added && !fresh)
                .ifPresent(added -> steps.add("added", "secret of " + name, List.of()));
    }

    private void request(Issuer issuer, String at, Client client, String scope, String standing) {
        String word = standing == null ? "waiting" : standing.strip();
        Optional<Instant> until = Optional.empty();
        if (word.startsWith("granted until ")) {
            try {
                until = Optional.of(
                        Instant.parse(word.substring("granted until ".length()).strip()));
            } catch (DateTimeParseException none) {
                steps.fault(
                        at,
                        "granted until and a time such as 2027-01-31T00:00:00Z",
                        Fields.quoted(word),
                        "Correct the time.");
                return;
            }
        } else if (!word.equals("granted") && !word.equals("waiting")) {
            steps.fault(
                    at, "waiting, granted, or granted until and a time", Fields.quoted(word), "Choose one of them.");
            return;
        }
        Optional<Scope> found = records.scopes().named(issuer.id(), scope);
        Optional<Approval> before = found.flatMap(it -> records.approvals().of(client.id(), it.id()));
        Instant now = clock.instant();
        Optional<Instant> wanted = until;
        if (word.equals("waiting") && before.isPresent()) return; // asked already, whatever the answer was
        if (before.filter(it -> it.isGrantedAt(now) && it.expiresAt().equals(wanted))
                .isPresent()) return;
        Optional<FieldFault> cannot = use.approving().faultOf(client, scope, at);
        if (cannot.isPresent()) {
            steps.faults().add(cannot.get());
            return;
        }
        boolean toWait = standing != null && word.equals("waiting");
        Optional<Approval> asked = steps.settle(
                at,
                toWait
                        ? use.approving().requestToWait(client, scope, by)
                        : use.approving().request(client, scope, by));
        if (asked.isEmpty()) return;
        Optional<Approval> after = word.equals("waiting")
                ? asked
                : steps.settle(at, use.approving().grant(client, asked.get(), wanted, by, Expected.ANY));
        after.ifPresent(it -> steps.step("approval of %s for %s".formatted(scope, client.name()), before, it));
    }
}
