package dev.admit.core.registration;

import dev.admit.contract.TrustedIssuerWanted;
import dev.admit.core.audit.Audit;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.Expected;
import dev.admit.core.change.FieldFault;
import dev.admit.core.change.Fields;
import dev.admit.core.change.Ids;
import dev.admit.core.change.Republish;
import dev.admit.core.change.Transactions;
import dev.admit.core.decision.Command;
import dev.admit.core.registry.Clients;
import dev.admit.core.registry.Issuer;
import dev.admit.core.route.Route;
import dev.admit.core.route.Routes;
import dev.admit.core.trust.FindKeys;
import dev.admit.core.trust.TrustedIssuer;
import dev.admit.core.trust.TrustedIssuers;
import dev.admit.core.trust.TrustedKeys;
import java.time.Clock;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;

/** Adds, changes and removes trusted issuers, and looks for their keys. */
public final class TrustRegistration {
    private static final Duration LOOK = Duration.ofSeconds(10);

    private final Transactions transactions;
    private final TrustedIssuers trusted;
    private final Clients clients;
    private final Routes routes;
    private final TrustedKeys keys;
    private final Audit audit;
    private final Republish live;
    private final Clock clock;

    public TrustRegistration(
            Transactions transactions,
            TrustedIssuers trusted,
            Clients clients,
            Routes routes,
            TrustedKeys keys,
            Audit audit,
            Republish live,
            Clock clock) {
        this.transactions = transactions;
        this.trusted = trusted;
        this.clients = clients;
        this.routes = routes;
        this.keys = keys;
        this.audit = audit;
        this.live = live;
        this.clock = clock;
    }

    @SuppressWarnings("NullAway") // what is read is whole when no field has a fault, and only then leaves here
    public Change<TrustedIssuer> add(Issuer issuer, TrustedIssuerWanted wanted, Actor by) {
        return published(transactions.inOne(() -> {
            TrustReading reading = new TrustReading(issuer, clients);
            String name = reading.fields().name("/name", wanted.name());
            if (name.equals(issuer.name()))
                reading.fields()
                        .fault(
                                "/name",
                                "another name than the issuer's own",
                                Fields.quoted(name),
                                "Choose another name.");
            Optional<TrustedIssuer> read = reading.read(
                    wanted,
                    new TrustedIssuer(
                            Ids.random("ti_"),
                            issuer.id(),
                            name,
                            "",
                            null,
                            TrustReading.USUAL_ALGORITHMS,
                            List.of("at+jwt"),
                            Optional.empty(),
                            TrustedIssuer.Claims.USUAL,
                            Map.of(),
                            Map.of(),
                            0,
                            clock.instant()));
            if (read.isEmpty()) return new Change.Invalid<>(reading.fields().faults());
            Optional<FieldFault> taken = taken(issuer, read.get());
            if (taken.isPresent()) return new Change.Taken<>(taken.get());
            trusted.insert(read.get());
            audit.added(by, issuer.id(), "trusted-issuer.added", name, read.get());
            return new Change.Made<>(read.get(), reading.fields().notes());
        }));
    }

    public Change<TrustedIssuer> change(
            Issuer issuer, String named, TrustedIssuerWanted wanted, Expected expected, Actor by) {
        return published(transactions.inOne(() -> {
            Optional<TrustedIssuer> old = trusted.named(issuer.id(), named);
            if (old.isEmpty()) return new Change.Absent<>("trusted issuer", named);
            Optional<Change<TrustedIssuer>> stale = expected.stale(old.get().version());
            if (stale.isPresent()) return stale.get();
            TrustReading reading = new TrustReading(issuer, clients);
            if (wanted.name() != null && !wanted.name().strip().equals(old.get().name())) {
                reading.fields()
                        .fault(
                                "/name",
                                old.get().name() + ", because routes and ids in tokens refer to it",
                                Fields.quoted(wanted.name()),
                                "Add one with the new name, and remove this one.");
            }
            Optional<TrustedIssuer> read = reading.read(wanted, old.get());
            if (read.isEmpty()) return new Change.Invalid<>(reading.fields().faults());
            Optional<FieldFault> taken = taken(issuer, read.get());
            if (taken.isPresent()) return new Change.Taken<>(taken.get());
            if (Audit.same(old.get(), read.get())) return Change.made(old.get(), "Nothing differs from what is there.");
            trusted.update(
                    read.get(),
                    read.get().keys().equals(old.get().keys())
                            && read.get().url().equals(old.get().url()));
            audit.changed(by, issuer.id(), "trusted-issuer.changed", read.get().name(), old.get(), read.get());
            reading.fields()
                    .removed(
                            "scope that counted as one of ours",
                            old.get().scopes().keySet(),
                            read.get().scopes().keySet());
            reading.fields()
                    .removed(
                            "client that was one of ours",
                            old.get().clients().keySet(),
                            read.get().clients().keySet());
            reading.fields()
                    .removed(
                            "algorithm",
                            old.get().algorithms().stream()
                                    .map(Object::toString)
                                    .toList(),
                            read.get().algorithms().stream()
                                    .map(Object::toString)
                                    .toList());
            reading.fields().removed("type", old.get().types(), read.get().types());
            return new Change.Made<>(read.get(), reading.fields().notes());
        }));
    }

    public Change<TrustedIssuer> remove(Issuer issuer, String named, Expected expected, Actor by) {
        Change<TrustedIssuer> change = published(transactions.inOne(() -> {
            Optional<TrustedIssuer> old = trusted.named(issuer.id(), named);
            if (old.isEmpty()) return new Change.Absent<>("trusted issuer", named);
            Optional<Change<TrustedIssuer>> stale = expected.stale(old.get().version());
            if (stale.isPresent()) return stale.get();
            List<String> using = routes.of(issuer.id()).stream()
                    .filter(it -> it.guard() instanceof Route.Guard.Token token
                            && token.who().issuers().contains(old.get().id()))
                    .map(Route::label)
                    .toList();
            if (!using.isEmpty())
                return new Change.Refused<>(
                        "The route %s takes its tokens.".formatted(String.join(", ", using)),
                        "Remove it of the routes first: they say from whom they take tokens.");
            trusted.delete(old.get().id());
            audit.removed(by, issuer.id(), "trusted-issuer.removed", old.get().name(), old.get());
            return Change.made(old.get());
        }));
        if (change instanceof Change.Made<TrustedIssuer> made)
            keys.forget(made.value().id());
        return change;
    }

    /**
     * Looks for its keys now.
     *
     * @return what was done, step by step
     */
    public FindKeys.Outcome look(TrustedIssuer it) {
        try {
            return keys.of(it).look().get(LOOK.toMillis(), TimeUnit.MILLISECONDS);
        } catch (ExecutionException | TimeoutException broken) {
            return new FindKeys.Outcome(
                    List.of(new FindKeys.Step("keys", false, "it took too long")), Optional.empty(), List.of());
        } catch (InterruptedException stopping) {
            Thread.currentThread().interrupt();
            return new FindKeys.Outcome(
                    List.of(new FindKeys.Step("keys", false, "the service stops")), Optional.empty(), List.of());
        }
    }

    public TrustedKeys.State state(TrustedIssuer it) {
        return keys.of(it).state();
    }

    /** Looks for its keys, and says with the change what they came to. To be called when nothing is locked any more. */
    public Change<TrustedIssuer> looked(Change<TrustedIssuer> change) {
        if (!(change instanceof Change.Made<TrustedIssuer>(TrustedIssuer it, List<String> notes))) return change;
        List<String> said = new ArrayList<>(notes);
        FindKeys.Outcome outcome = look(it);
        said.add(outcome.fault()
                .map(fault -> "Its keys are not known: %s. Its tokens are refused until they are; look again with: %s"
                        .formatted(fault, Command.of("trusted-issuer", "check", it.name())))
                .orElseGet(() -> "Its keys were found: %d.".formatted(outcome.count())));
        return new Change.Made<>(it, said);
    }

    private Optional<FieldFault> taken(Issuer issuer, TrustedIssuer wanted) {
        for (TrustedIssuer other : trusted.of(issuer.id())) {
            if (other.id().equals(wanted.id())) continue;
            if (other.name().equals(wanted.name()))
                return Optional.of(new FieldFault(
                        "/name", "a name no trusted issuer has", Fields.quoted(wanted.name()), "Choose another name."));
            // A token says its issuer and nothing else by which one of the two could be chosen.
            if (other.url().equals(wanted.url()))
                return Optional.of(new FieldFault(
                        "/url", "an issuer that is not trusted yet", "that of " + other.name(), "Change that one."));
        }
        return Optional.empty();
    }

    private Change<TrustedIssuer> published(Change<TrustedIssuer> change) {
        if (change instanceof Change.Made<TrustedIssuer>) live.republish();
        return change;
    }
}
