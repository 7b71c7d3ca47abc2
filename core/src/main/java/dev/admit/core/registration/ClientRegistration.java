package dev.admit.core.registration;

import dev.admit.core.approval.Approval;
import dev.admit.core.approval.Approving;
import dev.admit.core.approval.Withdrawal;
import dev.admit.core.audit.Audit;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.Expected;
import dev.admit.core.change.FieldFault;
import dev.admit.core.change.Fields;
import dev.admit.core.change.Ids;
import dev.admit.core.change.Transactions;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.ClientAuthMethod;
import dev.admit.core.registry.ClientKind;
import dev.admit.core.registry.ClientSecret;
import dev.admit.core.registry.Clients;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.NewSecret;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;

/** Registers clients, keeps their secrets, changes and removes them. */
public final class ClientRegistration {
    public static final Duration SECRET_LIFETIME = Duration.ofDays(90);
    private static final int MOST_SECRETS = 5;
    private static final int MOST_ASKS = 100;

    private final Transactions transactions;
    private final Clients clients;
    private final Approving approving;
    private final Withdrawal withdrawal;
    private final Audit audit;
    private final Consumer<String> forgetClient;
    private final Clock clock;

    public ClientRegistration(Transactions transactions, Clients clients, Approving approving, Withdrawal withdrawal, Audit audit,
                              Consumer<String> forgetClient, Clock clock) {
        this.transactions = transactions;
        this.clients = clients;
        this.approving = approving;
        this.withdrawal = withdrawal;
        this.audit = audit;
        this.forgetClient = forgetClient;
        this.clock = clock;
    }

    /** @param asks scope names; null for none. Every other member may be null on a change, which leaves what is there */
    public record Wanted(String name, String title, String kind, String authMethod, String owner, List<String> asks) {}

    /** A secret just made: the kept half, and the half to show once. */
    public record IssuedSecret(ClientSecret kept, NewSecret secret) {}

    public record Registered(Client client, IssuedSecret secret, List<Approval> asks) {}

    /** Registers a client with its first secret and what it asks for: all of it or nothing. */
    public Change<Registered> register(Issuer issuer, Wanted wanted, Duration secretLifetime, Actor by) {
        Fields fields = new Fields();
        String name = fields.name("/name", wanted.name());
        String title = fields.line("/title", wanted.title(), name, Fields.TEXT_LENGTH);
        String owner = fields.line("/owner", wanted.owner(), "", Fields.TEXT_LENGTH);
        Optional<ClientKind> kind = fields.word("/kind", wanted.kind(), ClientKind.class, ClientKind.SERVICE);
        Optional<ClientAuthMethod> method = fields.word("/auth_method", wanted.authMethod(), ClientAuthMethod.class,
                ClientAuthMethod.CLIENT_SECRET_BASIC);
        List<String> asks = wanted.asks() == null ? List.of() : wanted.asks();
        if (asks.size() > MOST_ASKS) {
            fields.fault("/asks", "at most " + MOST_ASKS + " scopes", asks.size() + " scopes", "Ask for what the client needs.");
        }
        if (fields.faulty()) return new Change.Invalid<>(fields.faults());

        Client client = new Client(Ids.random("cl_"), issuer.id(), name, title, kind.orElseThrow(), method.orElseThrow(), owner, true, 1,
                clock.instant());
        IssuedSecret secret = newSecret(client, "first", secretLifetime);
        return transactions.inOne(() -> {
            if (clients.named(issuer.id(), name).isPresent()) return nameTaken(name);
            List<FieldFault> faults = new ArrayList<>();
            for (int i = 0; i < asks.size(); i++) approving.faultOf(client, asks.get(i), "/asks/" + i).ifPresent(faults::add);
            if (!faults.isEmpty()) return new Change.Invalid<>(faults);
            clients.insert(client);
            clients.insert(secret.kept());
            audit.added(by, issuer.id(), "client.added", name, client);
            List<Approval> asked = asks.stream().distinct().map(scope -> approving.note(client, scope, by)).toList();
            return new Change.Made<>(new Registered(client, secret, asked), fields.notes());
        });
    }

    /** Changes what people read of a client, and how it proves itself. */
    public Change<Client> change(Issuer issuer, String named, Wanted wanted, Expected expected, Actor by) {
        Fields fields = new Fields();
        Change<Client> change = transactions.inOne(() -> {
            Optional<Client> found = clients.named(issuer.id(), named);
            if (found.isEmpty()) return new Change.Absent<>("client", named);
            Client old = found.get();
            Optional<Change<Client>> stale = expected.stale(old.version());
            if (stale.isPresent()) return stale.get();
            String name = wanted.name() == null ? old.name() : fields.name("/name", wanted.name());
            String title = wanted.title() == null ? old.title() : fields.line("/title", wanted.title(), name, Fields.TEXT_LENGTH);
            String owner = wanted.owner() == null ? old.owner() : fields.line("/owner", wanted.owner(), "", Fields.TEXT_LENGTH);
            Optional<ClientKind> kind = fields.word("/kind", wanted.kind(), ClientKind.class, old.kind());
            Optional<ClientAuthMethod> method = fields.word("/auth_method", wanted.authMethod(), ClientAuthMethod.class, old.authMethod());
            if (fields.faulty()) return new Change.Invalid<>(fields.faults());
            if (!name.equals(old.name()) && clients.named(issuer.id(), name).isPresent()) return nameTaken(name);
            Client changed = new Client(old.id(), issuer.id(), name, title, kind.orElseThrow(), method.orElseThrow(), owner, old.enabled(),
                    old.version() + 1, old.createdAt());
            clients.update(changed);
            audit.changed(by, issuer.id(), "client.changed", name, old, changed);
            return new Change.Made<>(changed, fields.notes());
        });
        if (change instanceof Change.Made<Client> made) forgetClient.accept(made.value().id());
        return change;
    }

    /**
     * Switches a client off or on. Off, it gets no tokens, and those it has are refused from the next request on; on again,
     * none of them comes back.
     */
    public Change<Client> switchTo(Issuer issuer, String named, boolean on, Expected expected, Actor by) {
        return withdrawal.revoking(revoke -> {
            Optional<Client> found = clients.named(issuer.id(), named);
            if (found.isEmpty()) return new Change.Absent<>("client", named);
            Optional<Change<Client>> stale = expected.stale(found.get().version());
            if (stale.isPresent()) return stale.get();
            if (found.get().enabled() == on) return Change.made(found.get(), "It was %s before.".formatted(on ? "on" : "off"));
            Client switched = found.get().switched(on);
            clients.update(switched);
            audit.changed(by, issuer.id(), on ? "client.on" : "client.off", switched.name(), found.get(), switched);
            if (on) revoke.forget(switched.id());
            else revoke.client(switched.id());
            return Change.made(switched);
        });
    }

    /** Removes a client with all it has; its tokens are refused from the next request on. @param confirm its name */
    public Change<Client> remove(Issuer issuer, String named, Expected expected, String confirm, Actor by) {
        return withdrawal.revoking(revoke -> {
            Optional<Client> found = clients.named(issuer.id(), named);
            if (found.isEmpty()) return new Change.Absent<>("client", named);
            Client client = found.get();
            Optional<Change<Client>> stale = expected.stale(client.version());
            if (stale.isPresent()) return stale.get();
            if (!client.name().equals(confirm)) {
                return new Change.NeedsConfirmation<>(client.name(),
                        List.of("client %s: its secrets, asks, approvals and every token it holds".formatted(client.name())));
            }
            revoke.client(client.id());
            clients.delete(client.id());
            audit.removed(by, issuer.id(), "client.removed", client.name(), client);
            return Change.made(client);
        });
    }

    /** Adds a secret beside those that are there, so that one can be replaced without an outage. */
    public Change<IssuedSecret> addSecret(Issuer issuer, String named, String label, Duration lifetime, Actor by) {
        Fields fields = new Fields();
        String said = fields.line("/label", label, "another", Fields.TEXT_LENGTH);
        if (fields.faulty()) return new Change.Invalid<>(fields.faults());
        Change<IssuedSecret> change = transactions.inOne(() -> {
            Optional<Client> found = clients.named(issuer.id(), named);
            if (found.isEmpty()) return new Change.Absent<>("client", named);
            if (clients.secretsOf(found.get().id()).size() >= MOST_SECRETS) {
                return new Change.Refused<>("A client has at most " + MOST_SECRETS + " secrets.", "Remove one that is no longer used.");
            }
            IssuedSecret secret = newSecret(found.get(), said, lifetime);
            clients.insert(secret.kept());
            audit.added(by, issuer.id(), "secret.added", found.get().name(), secret.kept());
            return new Change.Made<>(secret, fields.notes());
        });
        if (change instanceof Change.Made<IssuedSecret> made) forgetClient.accept(made.value().kept().clientId());
        return change;
    }

    /** Removes a secret; tokens fetched with it live on until they expire. @param confirm the client's name, for the last one */
    public Change<ClientSecret> removeSecret(Issuer issuer, String named, String secretId, String confirm, Actor by) {
        Change<ClientSecret> change = transactions.inOne(() -> {
            Optional<Client> found = clients.named(issuer.id(), named);
            if (found.isEmpty()) return new Change.Absent<>("client", named);
            List<ClientSecret> secrets = clients.secretsOf(found.get().id());
            Optional<ClientSecret> secret = secrets.stream().filter(it -> it.id().equals(secretId)).findFirst();
            if (secret.isEmpty()) return new Change.Absent<>("secret", secretId);
            if (secrets.size() == 1 && !found.get().name().equals(confirm)) {
                return new Change.NeedsConfirmation<>(found.get().name(), List.of("It is the only secret: the client can fetch no more tokens."));
            }
            clients.deleteSecret(secretId);
            audit.removed(by, issuer.id(), "secret.removed", found.get().name(), secret.get());
            return Change.made(secret.get());
        });
        if (change instanceof Change.Made<ClientSecret> made) forgetClient.accept(made.value().clientId());
        return change;
    }

    private IssuedSecret newSecret(Client client, String label, Duration lifetime) {
        NewSecret secret = NewSecret.make();
        Instant now = clock.instant();
        return new IssuedSecret(new ClientSecret(Ids.random("sec_"), client.id(), label, secret.hash(), now, now.plus(lifetime)), secret);
    }

    private static <T> Change<T> nameTaken(String name) {
        return new Change.Taken<>(new FieldFault("/name", "a name no client of this issuer has", Fields.quoted(name), "Choose another name."));
    }
}
