package dev.admit.core.registration;

import dev.admit.contract.ClientWanted;
import dev.admit.core.access.AdminApi;
import dev.admit.core.approval.AdminClients;
import dev.admit.core.approval.Approval;
import dev.admit.core.approval.Approvals;
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
import dev.admit.core.decision.Command;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.ClientAuthMethod;
import dev.admit.core.registry.ClientKind;
import dev.admit.core.registry.ClientSecret;
import dev.admit.core.registry.Clients;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.NewSecret;
import dev.admit.core.registry.SecretHash;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/** Registers clients, keeps their secrets, changes and removes them. */
public final class ClientRegistration {
    private static final Pattern CLIENT_ID = Pattern.compile("[A-Za-z0-9][A-Za-z0-9._~-]{2,99}");
    /**
     * How the ids of clients, people, APIs and all else begin that Admit makes; a client's own tokens have its id as
     * their subject.
     */
    private static final Pattern OWN_IDS =
            Pattern.compile("(?:ap|api|cl|dec|fam|fld|iss|key|mc|ml|pe|role|rt|sc|sec|ses|ti|uc|adm[a-z]*)_");
    /** The name of Admit's own clients. No other client has it. */
    public static final String OWN_NAME = "admit-console";

    private static final Duration OVERLAP = Duration.ofDays(1);
    private static final int MOST_SECRETS = 5;
    private static final int SHORTEST_GIVEN = 32;
    private static final int MAX_SCOPES = 100;

    private final Transactions transactions;
    private final Clients clients;
    private final Approvals approvals;
    private final Approving approving;
    private final AdminClients adminClients;
    private final NamedBy namedBy;
    private final Withdrawal withdrawal;
    private final Audit audit;
    private final Set<String> grantTypes;
    private final Consumer<String> forgetClient;
    private final Function<String, Optional<Duration>> longestSecret;
    private final Clock clock;

    /**
     * @param grantTypes every one that the service has
     * @param longestSecret the most that the plans of a client let a new secret of it last; empty for any
     */
    public ClientRegistration(
            Transactions transactions,
            Clients clients,
            Approvals approvals,
            Approving approving,
            AdminClients adminClients,
            NamedBy namedBy,
            Withdrawal withdrawal,
            Audit audit,
            Set<String> grantTypes,
            Consumer<String> forgetClient,
            Function<String, Optional<Duration>> longestSecret,
            Clock clock) {
        this.transactions = transactions;
        this.clients = clients;
        this.approvals = approvals;
        this.approving = approving;
        this.adminClients = adminClients;
        this.namedBy = namedBy;
        this.withdrawal = withdrawal;
        this.audit = audit;
        this.grantTypes = grantTypes;
        this.forgetClient = forgetClient;
        this.longestSecret = longestSecret;
        this.clock = clock;
    }

    /** A secret just made: the kept half, and the half to show once. */
    public record IssuedSecret(ClientSecret kept, NewSecret secret) {}

    /** @param secret empty for a client that proves itself in another way */
    public record Registered(Client client, Optional<IssuedSecret> secret, List<Approval> requested) {}

    /** A client that is not saved, with what it would request, as all of it would be. */
    public Change<Registered> preview(Issuer issuer, ClientWanted wanted, Actor by) {
        return transactions.rehearse(() -> register(issuer, wanted, by));
    }

    /** Registers a client with what it requests and, where it has secrets, its first one: all of it or nothing. */
    public Change<Registered> register(Issuer issuer, ClientWanted wanted, Actor by) {
        return register(issuer, wanted, false, by);
    }

    /** The same for a client that registers itself: nobody has looked at it, and no approval given ahead fits it. */
    public Change<Registered> registerItself(Issuer issuer, ClientWanted wanted, Actor by) {
        return register(issuer, wanted, true, by);
    }

    private Change<Registered> register(Issuer issuer, ClientWanted wanted, boolean itself, Actor by) {
        ClientReading reading = new ClientReading(issuer, grantTypes);
        String chosen = wanted.clientId() == null ? "" : wanted.clientId().strip();
        Client blank = new Client(
                !chosen.isEmpty() ? readId(reading.fields(), chosen) : Ids.random("cl_"),
                issuer.id(),
                "",
                ClientKind.MACHINE,
                Client.Texts.named(""),
                Client.Proof.by(ClientAuthMethod.CLIENT_SECRET_BASIC),
                Client.Addresses.NONE,
                Optional.empty(),
                List.of(),
                Client.People.USUAL,
                false,
                true,
                0,
                clock.instant(),
                itself);
        return register(issuer, reading, reading.read(wanted, blank), wanted.scopes(), wanted.secretLifetime(), by);
    }

    /**
     * RFC 6749 §2.2 and A.1 let the server choose; an id from elsewhere is taken where it is plain in URLs and headers
     * and cannot pass for one of Admit's.
     */
    private static String readId(Fields fields, String id) {
        if (!CLIENT_ID.matcher(id).matches())
            fields.fault(
                    "/client_id",
                    "3 to 100 letters, digits and -._~, beginning with a letter or digit",
                    Fields.quoted(id),
                    "Take the other characters out.");
        else if (OWN_IDS.matcher(id).lookingAt())
            fields.fault(
                    "/client_id",
                    "an id that does not begin as those that Admit makes",
                    Fields.quoted(id),
                    "Choose another, or leave it out to have one made.");
        return id;
    }

    private Change<Registered> register(
            Issuer issuer,
            ClientReading reading,
            Client client,
            @Nullable List<String> wantedScopes,
            @Nullable String secretLifetime,
            Actor by) {
        Fields fields = reading.fields();
        List<String> requested = wantedScopes == null ? List.of() : approving.spelledOut(issuer.id(), wantedScopes);
        if (requested.size() > MAX_SCOPES)
            fields.fault(
                    "/scopes",
                    "at most " + MAX_SCOPES + " scopes",
                    requested.size() + " scopes",
                    "Request what the client needs.");
        Optional<IssuedSecret> secret = client.tokenEndpointAuthMethod().hasSecret()
                ? Optional.of(newSecret(issuer, fields, client, "first", "/secret_lifetime", secretLifetime))
                : Optional.empty();
        if (secret.isEmpty() && secretLifetime != null && !secretLifetime.isBlank()) {
            fields.fault(
                    "/secret_lifetime",
                    "nothing, because it has no secret",
                    Fields.quoted(secretLifetime),
                    "Leave it out.");
        }
        if (fields.faulty()) return new Change.Invalid<>(fields.faults());
        if (isReserved(client.name(), by) || isReserved(client.id(), by)) return nameReserved(client.name());
        if (client.mayIntrospect() && !by.isAdministrator()) return introspecting();
        Optional<Change<Registered>> refusal = adminClients.refusal(client, requested, "register such a client", by);
        if (refusal.isPresent()) return refusal.get();
        Optional<Change<Registered>> tagged =
                approving.refusalOfTags(issuer.id(), List.of(), client.texts().tags(), by);
        if (tagged.isPresent()) return tagged.get();
        Change<Registered> change = transactions.inOne(() -> {
            if (clients.named(issuer.id(), client.name()).isPresent()) return nameTaken(client.name());
            if (clients.isIdTaken(client.id())
                    || clients.named(issuer.id(), client.id()).isPresent()
                    || namedBy.isAudience(issuer, client.id())) {
                return new Change.Taken<>(new FieldFault(
                        "/client_id",
                        "an id that no client of this service has, as id or as name, and no API as its audience",
                        Fields.quoted(client.id()),
                        "Choose another, or leave it out to have one made."));
            }
            List<FieldFault> faults = new ArrayList<>();
            for (int i = 0; i < requested.size(); i++)
                approving.faultOf(client, requested.get(i), "/scopes/" + i).ifPresent(faults::add);
            if (!faults.isEmpty()) return new Change.Invalid<>(faults);
            clients.insert(client);
            secret.ifPresent(it -> clients.insert(it.kept()));
            audit.added(by, issuer.id(), "client.added", client.name(), client);
            List<Approval> asked = requested.stream()
                    .map(String::strip)
                    .distinct()
                    .map(scope -> approving.note(client, scope, by))
                    .toList();
            return new Change.Made<>(new Registered(client, secret, asked), fields.notes());
        });
        if (change instanceof Change.Made<Registered>) forgetClient.accept(client.id());
        return change;
    }

    /** Registers another client like one that is there; it has a secret of its own, and what it requests waits anew. */
    public Change<Registered> copy(Issuer issuer, String named, @Nullable String newName, Actor by) {
        Optional<Client> found = clients.named(issuer.id(), named);
        if (found.isEmpty()) return new Change.Absent<>("client", named);
        Client old = found.get();
        Optional<Change<Registered>> refusal = adminClients.refusal(old, "copy this client", by);
        if (refusal.isPresent()) return refusal.get();
        ClientReading reading = new ClientReading(issuer, grantTypes);
        String name = reading.fields().name("/name", newName);
        Client copy = new Client(
                Ids.random("cl_"),
                issuer.id(),
                name,
                old.kind(),
                old.texts(),
                old.proof(),
                old.addresses(),
                old.grantTypes(),
                old.openidScopes(),
                new Client.People(
                        false,
                        old.people().secondFactor(),
                        old.people().idTokenSignedResponseAlg(),
                        old.people().postLogoutRedirectUris()),
                true,
                1,
                clock.instant());
        return register(
                issuer,
                reading,
                copy,
                approvals.ofClient(old.id()).stream().map(Approval::scopeName).toList(),
                null,
                by);
    }

    /** Changes a client; what it requests and its secrets have changes of their own. */
    public Change<Client> change(Issuer issuer, String named, ClientWanted wanted, Expected expected, Actor by) {
        ClientReading reading = new ClientReading(issuer, grantTypes);
        Change<Client> change = withdrawal.revoking(revoke -> {
            Optional<Client> found = clients.named(issuer.id(), named);
            if (found.isEmpty()) return new Change.Absent<>("client", named);
            Client old = found.get();
            Optional<Change<Client>> stale = expected.stale(old.version());
            if (stale.isPresent()) return stale.get();
            if (wanted.clientId() != null && !wanted.clientId().strip().equals(old.id())) {
                reading.fields()
                        .fault(
                                "/client_id",
                                old.id() + ", because tokens and applications hold that",
                                Fields.quoted(wanted.clientId()),
                                "Register another client with the new id.");
            }
            Client changed = reading.read(wanted, old);
            if (reading.fields().faulty())
                return new Change.Invalid<>(reading.fields().faults());
            if (isReserved(changed.name(), by) && !old.name().equals(changed.name()))
                return nameReserved(changed.name());
            Optional<Change<Client>> refusal =
                    adminClients.refusal(old, changed.openidScopes(), "change this client", by);
            if (changed.mayIntrospect() && !old.mayIntrospect() && !by.isAdministrator()) return introspecting();
            if (refusal.isPresent()) return refusal.get();
            Optional<Change<Client>> tagged = approving.refusalOfTags(
                    issuer.id(), old.texts().tags(), changed.texts().tags(), by);
            if (tagged.isPresent()) return tagged.get();
            if (!changed.name().equals(old.name())
                    && clients.named(issuer.id(), changed.name()).isPresent()) return nameTaken(changed.name());
            Optional<Change<Client>> naming =
                    changed.name().equals(old.name()) ? Optional.empty() : namedBy.refusalOfRenaming(issuer, old);
            if (naming.isPresent()) return naming.get();
            Optional<Change<Client>> misfit = misfit(old, changed);
            if (misfit.isPresent()) return misfit.get();
            if (Audit.same(old, changed)) return Change.made(old, "Nothing differs from what is there.");
            clients.update(changed);
            // Tokens that run Admit were approved for the client as it was.
            if (old.people().openidGranted() && !changed.people().openidGranted()) revoke.scope(old.id(), AdminApi.RUN);
            audit.changed(by, issuer.id(), "client.changed", changed.name(), old, changed);
            sayWhatWent(reading.fields(), old, changed);
            return new Change.Made<>(changed, reading.fields().notes());
        });
        if (change instanceof Change.Made<Client> made)
            forgetClient.accept(made.value().id());
        return change;
    }

    /** A client of another kind, or with other grant types, may not be able to hold what it requests. */
    private Optional<Change<Client>> misfit(Client old, Client changed) {
        for (Approval it : approvals.ofClient(old.id())) {
            if (approving.faultOf(changed, it.scopeName(), "").isPresent()
                    && approving.faultOf(old, it.scopeName(), "").isEmpty()) {
                return Optional.of(new Change.Refused<>(
                        "%s requests %s, which it could not hold then.".formatted(old.name(), it.scopeName()),
                        "Take that off first, with: " + Command.of("approval", "drop", old.name(), it.scopeName())));
            }
        }
        return Optional.empty();
    }

    private static void sayWhatWent(Fields fields, Client old, Client changed) {
        fields.removed(
                "redirect URI", old.addresses().redirects(), changed.addresses().redirects());
        fields.removed("origin", old.addresses().origins(), changed.addresses().origins());
        fields.removed("grant type", old.usableGrantTypes(), changed.usableGrantTypes());
        fields.removed("scope", old.openidScopes(), changed.openidScopes());
        fields.removed("contact", old.texts().contacts(), changed.texts().contacts());
        fields.removed(
                "link",
                old.texts().links().stream().map(Object::toString).toList(),
                changed.texts().links().stream().map(Object::toString).toList());
        fields.removed("tag", old.texts().tags(), changed.texts().tags());
        fields.removed(
                "address after sign-out",
                old.people().postLogoutRedirectUris(),
                changed.people().postLogoutRedirectUris());
    }

    /**
     * An administrator says yes for everyone to what a client may learn of people, or takes that back: then each person
     * is asked.
     */
    public Change<Client> grantOpenid(Issuer issuer, String named, boolean granted, Actor by) {
        Change<Client> change = withdrawal.revoking(revoke -> {
            Optional<Client> found = clients.named(issuer.id(), named);
            if (found.isEmpty()) return new Change.Absent<>("client", named);
            Client old = found.get();
            Optional<Change<Client>> refusal = adminClients.refusal(old, "approve what it may know of people", by);
            if (refusal.isPresent()) return refusal.get();
            if (old.openidScopes().isEmpty())
                return new Change.Refused<>(
                        "%s requests none of the issuer's own scopes.".formatted(old.name()),
                        "Have it request them first: "
                                + Command.of("client", "change", old.name(), "--add-openid-scope", "openid"));
            if (old.people().openidGranted() == granted) return Change.made(old, "It was so before.");
            Client changed = old.openidGranted(granted);
            clients.update(changed);
            if (!granted) old.openidScopes().forEach(scope -> revoke.scope(old.id(), scope));
            audit.changed(
                    by,
                    issuer.id(),
                    granted ? "client.openid-granted" : "client.openid-withdrawn",
                    changed.name(),
                    old,
                    changed);
            return Change.made(changed);
        });
        if (change instanceof Change.Made<Client> made)
            forgetClient.accept(made.value().id());
        return change;
    }

    /**
     * Switches a client off or on. Off, it gets no tokens, and those it has are refused from the next request on; on
     * again, it can fetch new ones, and what was ended stays ended.
     */
    public Change<Client> switchTo(Issuer issuer, String named, boolean on, Expected expected, Actor by) {
        return withdrawal.revoking(revoke -> {
            Optional<Client> found = clients.named(issuer.id(), named);
            if (found.isEmpty()) return new Change.Absent<>("client", named);
            Optional<Change<Client>> stale = expected.stale(found.get().version());
            if (stale.isPresent()) return stale.get();
            // Admit's own clients too: to keep people out of the console, and to let them in again.
            if (!by.isAdministrator() && adminClients.isOne(found.get()))
                return Change.Forbidden.toAllBut("administrators", "switch this client, because it can run Admit");
            if (found.get().enabled() == on)
                return Change.made(found.get(), "It was %s before.".formatted(on ? "on" : "off"));
            Client switched = found.get().switched(on);
            clients.update(switched);
            audit.changed(by, issuer.id(), on ? "client.on" : "client.off", switched.name(), found.get(), switched);
            if (on) revoke.forget(switched.id());
            else revoke.client(switched.id());
            return Change.made(switched);
        });
    }

    /**
     * Removes a client with all it has; its tokens are refused from the next request on.
     *
     * @param confirm its name
     */
    public Change<Client> remove(Issuer issuer, String named, Expected expected, String confirm, Actor by) {
        return withdrawal.revoking(revoke -> {
            Optional<Client> found = clients.named(issuer.id(), named);
            if (found.isEmpty()) return new Change.Absent<>("client", named);
            Client client = found.get();
            Optional<Change<Client>> stale = expected.stale(client.version());
            if (stale.isPresent()) return stale.get();
            Optional<Change<Client>> refusal = adminClients.refusal(client, "remove this client", by);
            if (refusal.isPresent()) return refusal.get();
            Optional<Change<Client>> naming = namedBy.refusal(issuer, client);
            if (naming.isPresent()) return naming.get();
            if (!client.name().equals(confirm)) {
                return new Change.NeedsConfirmation<>(
                        client.name(),
                        List.of("client %s: its secrets, requested scopes, approvals and every token it holds"
                                .formatted(client.name())));
            }
            revoke.client(client.id());
            clients.delete(client.id());
            audit.removed(by, issuer.id(), "client.removed", client.name(), client);
            return Change.made(client);
        });
    }

    /**
     * Adds a secret beside those that are there.
     *
     * @param lifetime such as {@code 30d} or {@code never}; null for the usual one
     */
    public Change<IssuedSecret> addSecret(
            Issuer issuer, String named, @Nullable String label, @Nullable String lifetime, Actor by) {
        return anotherSecret(issuer, named, label, lifetime, Optional.empty(), by);
    }

    /**
     * Replaces what a client proves itself with, without an outage: a new secret, and the others expire after an
     * overlap.
     *
     * @param overlap such as {@code 1d}, which is usual
     */
    public Change<IssuedSecret> replaceSecrets(
            Issuer issuer,
            String named,
            @Nullable String label,
            @Nullable String lifetime,
            @Nullable String overlap,
            Actor by) {
        Fields fields = new Fields();
        Optional<Duration> both =
                fields.duration("/overlap", overlap, OVERLAP, issuer.settings().maxSecretLifetime());
        return both.isEmpty()
                ? new Change.Invalid<>(fields.faults())
                : anotherSecret(issuer, named, label, lifetime, both, by);
    }

    private Change<IssuedSecret> anotherSecret(
            Issuer issuer,
            String named,
            @Nullable String label,
            @Nullable String lifetime,
            Optional<Duration> overlap,
            Actor by) {
        Fields fields = new Fields();
        String said = fields.line(
                "/label",
                label,
                overlap.isPresent() ? "since " + clock.instant().toString().substring(0, 10) : "another",
                Fields.TEXT_LENGTH);
        Change<IssuedSecret> change = transactions.inOne(() -> {
            Optional<Client> found = clients.named(issuer.id(), named);
            if (found.isEmpty()) return new Change.Absent<>("client", named);
            Client client = found.get();
            Optional<Change<IssuedSecret>> refusal = adminClients.refusal(client, "give this client a secret", by);
            if (refusal.isPresent()) return refusal.get();
            if (!client.tokenEndpointAuthMethod().hasSecret()) {
                return new Change.Refused<>(
                        "%s proves itself by %s, not by a secret."
                                .formatted(client.name(), client.tokenEndpointAuthMethod()),
                        client.kind().confidential()
                                ? "Change that with: "
                                        + Command.of(
                                                "client",
                                                "change",
                                                client.name(),
                                                "--token-endpoint-auth-method",
                                                "client_secret_basic")
                                : "It needs none.");
            }
            IssuedSecret secret = newSecret(issuer, fields, client, said, "/lifetime", lifetime);
            if (fields.faulty()) return new Change.Invalid<>(fields.faults());
            List<ClientSecret> before = clients.secretsOf(client.id());
            if (before.size() >= MOST_SECRETS) {
                Optional<ClientSecret> over = before.stream()
                        .filter(it -> it.isExpiredAt(clock.instant()))
                        .findFirst();
                if (over.isEmpty())
                    return new Change.Refused<>(
                            "A client has at most " + MOST_SECRETS + " secrets.", "Remove one that is no longer used.");
                clients.deleteSecret(over.get().id());
            }
            for (ClientSecret old : overlap.isPresent() ? before : List.<ClientSecret>of())
                endBy(clock.instant().plus(overlap.get()), old, client, by);
            clients.insert(secret.kept());
            audit.added(by, issuer.id(), "secret.added", client.name(), secret.kept());
            return new Change.Made<>(secret, fields.notes());
        });
        if (change instanceof Change.Made<IssuedSecret> made)
            forgetClient.accept(made.value().kept().clientId());
        return change;
    }

    private void endBy(Instant time, ClientSecret old, Client client, Actor by) {
        ClientSecret ending = old.endingBy(time);
        if (ending.equals(old)) return;
        clients.update(ending);
        audit.changed(by, client.issuerId(), "secret.changed", client.name(), old, ending);
    }

    /**
     * Gives a client a secret that was made elsewhere; nothing happens when it has that one.
     *
     * @param instead whether it takes the place of the first one that was made with the client
     * @return whether it was added
     */
    public Change<Boolean> giveSecret(
            Issuer issuer, String named, String text, @Nullable String lifetime, boolean instead, Actor by) {
        Fields fields = new Fields();
        if (text == null || text.strip().length() < SHORTEST_GIVEN || text.length() > Fields.TEXT_LENGTH) {
            return Change.invalid(new FieldFault(
                    "",
                    "a secret of %d to %d characters, made at random".formatted(SHORTEST_GIVEN, Fields.TEXT_LENGTH),
                    text == null ? "nothing" : "one of another length",
                    "Have one made, or make one with 256 random bits."));
        }
        Change<Boolean> change = transactions.inOne(() -> {
            Optional<Client> found = clients.named(issuer.id(), named);
            if (found.isEmpty()) return new Change.Absent<>("client", named);
            Optional<Change<Boolean>> refusal = adminClients.refusal(found.get(), "give this client a secret", by);
            if (refusal.isPresent()) return refusal.get();
            if (!found.get().tokenEndpointAuthMethod().hasSecret())
                return new Change.Refused<>(
                        "%s proves itself by %s, not by a secret."
                                .formatted(named, found.get().tokenEndpointAuthMethod()),
                        "Take the secret out.");
            SecretHash hash = SecretHash.of(text.strip());
            List<ClientSecret> before = clients.secretsOf(found.get().id());
            if (before.stream().anyMatch(it -> it.hash().matches(hash))) return Change.made(false);
            if (instead) before.forEach(it -> clients.deleteSecret(it.id()));
            else if (before.size() >= MOST_SECRETS)
                return new Change.Refused<>(
                        "A client has at most " + MOST_SECRETS + " secrets.", "Remove one that is no longer used.");
            Instant now = clock.instant();
            Optional<Instant> end =
                    readEnd(issuer, longestSecret.apply(found.get().id()), fields, "", lifetime, now);
            if (fields.faulty()) return new Change.Invalid<>(fields.faults());
            ClientSecret kept =
                    new ClientSecret(Ids.random("sec_"), found.get().id(), "setup", hash, now, end, Optional.empty());
            clients.insert(kept);
            audit.added(by, issuer.id(), "secret.added", named, kept);
            return new Change.Made<>(true, fields.notes());
        });
        if (change instanceof Change.Made<Boolean>)
            clients.named(issuer.id(), named).ifPresent(client -> forgetClient.accept(client.id()));
        return change;
    }

    /**
     * Removes a secret; tokens fetched with it live on until they expire.
     *
     * @param confirm the client's name, for the last one
     */
    public Change<ClientSecret> removeSecret(Issuer issuer, String named, String secretId, String confirm, Actor by) {
        Change<ClientSecret> change = transactions.inOne(() -> {
            Optional<Client> found = clients.named(issuer.id(), named);
            if (found.isEmpty()) return new Change.Absent<>("client", named);
            Optional<Change<ClientSecret>> refusal =
                    adminClients.refusal(found.get(), "remove a secret of this client", by);
            if (refusal.isPresent()) return refusal.get();
            List<ClientSecret> secrets = clients.secretsOf(found.get().id());
            Optional<ClientSecret> secret =
                    secrets.stream().filter(it -> it.id().equals(secretId)).findFirst();
            if (secret.isEmpty()) return new Change.Absent<>("secret", secretId);
            if (secrets.size() == 1 && !found.get().name().equals(confirm)) {
                return new Change.NeedsConfirmation<>(
                        found.get().name(), List.of("It is the only secret: the client can fetch no more tokens."));
            }
            clients.deleteSecret(secretId);
            audit.removed(by, issuer.id(), "secret.removed", found.get().name(), secret.get());
            return Change.made(secret.get());
        });
        if (change instanceof Change.Made<ClientSecret> made)
            forgetClient.accept(made.value().clientId());
        return change;
    }

    private IssuedSecret newSecret(
            Issuer issuer, Fields fields, Client client, String label, String pointer, @Nullable String lifetime) {
        NewSecret secret = NewSecret.make();
        Instant now = clock.instant();
        return new IssuedSecret(
                new ClientSecret(
                        Ids.random("sec_"),
                        client.id(),
                        label,
                        secret.hash(),
                        now,
                        readEnd(issuer, longestSecret.apply(client.id()), fields, pointer, lifetime, now),
                        Optional.empty()),
                secret);
    }

    private static Optional<Instant> readEnd(
            Issuer issuer,
            Optional<Duration> ofPlans,
            Fields fields,
            String pointer,
            @Nullable String lifetime,
            Instant now) {
        Duration most = ofPlans.map(it -> shorter(it, issuer.settings().maxSecretLifetime()))
                .orElse(issuer.settings().maxSecretLifetime());
        if (lifetime != null && lifetime.strip().equals("never")) {
            if (ofPlans.isPresent()) {
                fields.fault(
                        pointer,
                        "a time of at most " + Fields.written(most),
                        "'never', which a plan of the client does not allow",
                        "Choose a time, or end the subscription.");
            } else if (!issuer.settings().nonExpiringSecrets()) {
                fields.fault(
                        pointer,
                        "a time of at most " + Fields.written(issuer.settings().maxSecretLifetime()),
                        "'never', which this issuer does not allow",
                        "Choose a time, or allow it with: "
                                + Command.of("issuer", "change", issuer.name(), "--non-expiring-secrets", "true"));
            }
            fields.note("This secret never expires. Replace it by hand.");
            return Optional.empty();
        }
        return fields.duration(pointer, lifetime, shorter(issuer.settings().secretLifetime(), most), most)
                .map(now::plus);
    }

    private static Duration shorter(Duration one, Duration two) {
        return one.compareTo(two) < 0 ? one : two;
    }

    /** The one who introspects sees what every token says: that is for administrators to allow. */
    private static <T> Change<T> introspecting() {
        return Change.Forbidden.toAllBut("administrators", "let a client introspect the tokens of others");
    }

    private static boolean isReserved(String name, Actor by) {
        return name.equals(OWN_NAME) && by.power() != Actor.Power.ADMIT;
    }

    private static <T> Change<T> nameReserved(String name) {
        return Change.invalid(new FieldFault(
                "/name", "another name than that of Admit's own console", Fields.quoted(name), "Choose another name."));
    }

    private static <T> Change<T> nameTaken(String name) {
        return new Change.Taken<>(new FieldFault(
                "/name", "a name no client of this issuer has", Fields.quoted(name), "Choose another name."));
    }
}
