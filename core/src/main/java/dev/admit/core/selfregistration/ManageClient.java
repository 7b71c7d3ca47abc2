package dev.admit.core.selfregistration;

import dev.admit.core.approval.Approval;
import dev.admit.core.approval.Approvals;
import dev.admit.core.approval.Approving;
import dev.admit.core.approval.PersonalApprovals;
import dev.admit.core.approval.Withdrawal;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.Expected;
import dev.admit.core.change.FieldFault;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import dev.admit.core.decision.Recorder;
import dev.admit.core.decision.Refusal;
import dev.admit.core.json.StrictJson;
import dev.admit.core.registration.ClientRegistration;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.ClientKind;
import dev.admit.core.registry.ClientSecret;
import dev.admit.core.registry.Clients;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.NewSecret;
import dev.admit.core.registry.SecretHash;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Lets a client that registered itself read, change and remove its registration (RFC 7592). */
public final class ManageClient {
    private static final List<String> OF_ANSWERS = List.of(
            "registration_access_token", "registration_client_uri", "client_secret_expires_at", "client_id_issued_at");
    private static final Duration SOON = Duration.ofDays(14);

    private final SelfRegistrations registrations;
    private final ClientRegistration registration;
    private final Approving approving;
    private final Approvals approvals;
    private final PersonalApprovals personal;
    private final Clients clients;
    private final TakenNames taken;
    private final RegisterClient.Requestable requestable;
    private final Withdrawal withdrawal;

    public ManageClient(
            SelfRegistrations registrations,
            ClientRegistration registration,
            Approving approving,
            Approvals approvals,
            PersonalApprovals personal,
            Clients clients,
            RegisterClient.Requestable requestable,
            Withdrawal withdrawal) {
        this.registrations = registrations;
        this.registration = registration;
        this.approving = approving;
        this.approvals = approvals;
        this.personal = personal;
        this.clients = clients;
        this.taken = new TakenNames(clients);
        this.requestable = requestable;
        this.withdrawal = withdrawal;
    }

    public sealed interface Outcome {
        /** @param body of a 200 */
        record Told(Map<String, Object> body) implements Outcome {}

        record Removed() implements Outcome {}

        record Refused(Refusal refusal) implements Outcome {}
    }

    /** @param asked with the registration access token as bearer */
    public Outcome read(Issuer issuer, String clientId, RegisterClient.Asked asked, Recorder decision) {
        Optional<Own> own = own(issuer, clientId, asked, decision);
        if (own.isEmpty()) return new Outcome.Refused(decision.refusal().orElseThrow());
        return new Outcome.Told(RegisterClient.told(
                issuer,
                own.get().client(),
                requested(own.get()),
                own.get().kept().more(),
                Optional.empty(),
                Optional.empty()));
    }

    public Outcome remove(Issuer issuer, String clientId, RegisterClient.Asked asked, Recorder decision) {
        Optional<Own> own = own(issuer, clientId, asked, decision);
        if (own.isEmpty()) return new Outcome.Refused(decision.refusal().orElseThrow());
        Client client = own.get().client();
        return switch (registration.remove(issuer, client.id(), Expected.ANY, client.name(), itself(client, asked))) {
            case Change.Made<Client> made -> new Outcome.Removed();
            case Change.Absent<Client> gone -> refused(decision, unusable());
            default ->
                refused(
                        decision,
                        CheckResult.refused(
                                "client",
                                Reason.REGISTRATION_STAYS,
                                "a client that no route and no rule of the issuer names",
                                "one that is named",
                                Fix.of("Ask an administrator to remove the client.")
                                        .by("an administrator")));
        };
    }

    /**
     * Puts other metadata in the place of what is there, with a new registration access token. What people approved
     * ends where the client changes what they saw when they approved it.
     */
    public Outcome change(Issuer issuer, String clientId, RegisterClient.Asked asked, Recorder decision) {
        Optional<Own> own = own(issuer, clientId, asked, decision);
        if (own.isEmpty()) return new Outcome.Refused(decision.refusal().orElseThrow());
        Client client = own.get().client();
        Optional<Map<String, Object>> said = StrictJson.object(asked.body());
        Optional<FieldFault> form =
                said.isEmpty() ? Optional.of(noObject()) : form(client, said.get(), clients.secretsOf(client.id()));
        if (form.isPresent()) return refused(decision, RegisterClient.notTaken(form.get()));
        ClientMetadata.Read read = new ClientMetadata(
                        said.orElseThrow(),
                        own.get().kept().limits(),
                        requestable.of(issuer, decision.at()),
                        name -> taken.has(issuer, name))
                .read(client.name());
        Optional<FieldFault> fault =
                otherProof(client, read.kind()).or(() -> read.faults().stream().findFirst());
        if (fault.isPresent()) return refused(decision, RegisterClient.notTaken(fault.get()));
        return changed(issuer, own.get(), read, itself(client, asked), decision);
    }

    private Outcome changed(Issuer issuer, Own own, ClientMetadata.Read read, Actor by, Recorder decision) {
        Client client = own.client();
        NewSecret manages = NewSecret.make();
        Change<Client> change = withdrawal.revoking(revoke -> {
            dropOthers(client, read.scopes(), by);
            Change<Client> made = registration.change(issuer, client.id(), read.wanted(), Expected.ANY, by);
            if (!(made instanceof Change.Made<Client>(Client changed, List<String> notes))) return made;
            if (isAnother(client, changed)) askAnew(issuer, changed, revoke);
            Optional<FieldFault> fault = request(changed, read.scopes(), by);
            if (fault.isPresent()) return Change.invalid(fault.get());
            return registrations.replace(
                            own.kept().with(read.more(), manages.hash()),
                            own.kept().token())
                    ? made
                    : new Change.Absent<>("registration access token", client.id());
        });
        return switch (change) {
            case Change.Made<Client>(Client changed, List<String> notes) ->
                new Outcome.Told(RegisterClient.told(
                        issuer,
                        changed,
                        read.scopes(),
                        read.more(),
                        secretFor(issuer, changed, by, decision.at()),
                        Optional.of(manages)));
            case Change.Invalid<Client>(List<FieldFault> faults) ->
                refused(decision, RegisterClient.notTaken(faults.getFirst()));
            case Change.Absent<Client> anotherWasFirst -> refused(decision, unusable());
            default ->
                refused(
                        decision,
                        RegisterClient.notTaken(new FieldFault(
                                "", "metadata that fits what the client is", "other metadata", "Register another.")));
        };
    }

    private static FieldFault noObject() {
        return new FieldFault("", "a JSON object of all its metadata", "something else", "Send what was registered.");
    }

    /** RFC 7592 §2.2: which client is meant, and nothing that only the answer says. */
    private static Optional<FieldFault> form(Client client, Map<String, Object> said, List<ClientSecret> secrets) {
        if (!client.id().equals(said.get("client_id")))
            return Optional.of(new FieldFault(
                    "/client_id", "the client_id of this client", "another, or none", "Send what was registered."));
        for (String member : OF_ANSWERS)
            if (said.containsKey(member))
                return Optional.of(new FieldFault(
                        "/" + member, "nothing, because only answers have it", "a value", "Take it out."));
        boolean itsOwn = !said.containsKey("client_secret")
                || said.get("client_secret") instanceof String secret
                        && secrets.stream().anyMatch(it -> it.hash().matches(SecretHash.of(secret)));
        return itsOwn
                ? Optional.empty()
                : Optional.of(new FieldFault(
                        "/client_secret",
                        "a secret of this client, or none",
                        "another one",
                        "Leave it out: a client does not choose its secret."));
    }

    /** What keeps no credential would want one, or the one that is there would be of no use. */
    private static Optional<FieldFault> otherProof(Client client, ClientKind wanted) {
        if (client.kind().confidential() == wanted.confidential()) return Optional.empty();
        return Optional.of(new FieldFault(
                "/token_endpoint_auth_method",
                client.tokenEndpointAuthMethod() + ", as it was registered",
                wanted.confidential() ? "a method that wants a credential" : "none",
                "Register another client."));
    }

    /** What those saw who approved the client: its name, where people are sent, and how it comes to tokens. */
    private static boolean isAnother(Client before, Client after) {
        return !before.clientName().equals(after.clientName())
                || !before.addresses().equals(after.addresses())
                || before.kind() != after.kind()
                || !before.usableGrantTypes().equals(after.usableGrantTypes());
    }

    /** What anybody approved, administrators too, was approved for what the client was before. */
    private void askAnew(Issuer issuer, Client client, Withdrawal.Revoke revoke) {
        personal.deleteOfClient(client.id());
        if (client.people().openidGranted()) registration.grantOpenid(issuer, client.id(), false, Actor.ADMIT);
        for (Approval it : approvals.ofClient(client.id()))
            if (it.status() == Approval.Status.GRANTED) approving.drop(client, it, Actor.ADMIT);
        revoke.client(client.id());
    }

    private void dropOthers(Client client, List<String> wanted, Actor by) {
        for (Approval it : approvals.ofClient(client.id()))
            if (!wanted.contains(it.scopeName()) && !it.lastWord()) approving.drop(client, it, by);
    }

    private Optional<FieldFault> request(Client client, List<String> wanted, Actor by) {
        List<Approval> there = approvals.ofClient(client.id());
        for (String scope : wanted) {
            if (there.stream().anyMatch(it -> it.scopeName().equals(scope))) continue;
            Optional<FieldFault> fault = approving.faultOf(client, scope, "/scope");
            if (fault.isPresent()) return fault;
            approving.note(client, scope, by);
        }
        return Optional.empty();
    }

    /** RFC 7592 §2.2 lets an answer bring a new secret: where there is none, or the last one is about to expire. */
    private Optional<ClientRegistration.IssuedSecret> secretFor(Issuer issuer, Client client, Actor by, Instant now) {
        boolean lasts = clients.secretsOf(client.id()).stream().anyMatch(it -> !it.isExpiredAt(now.plus(SOON)));
        if (!client.tokenEndpointAuthMethod().hasSecret() || lasts) return Optional.empty();
        return registration.addSecret(issuer, client.name(), "by itself", null, by)
                        instanceof Change.Made<ClientRegistration.IssuedSecret> made
                ? Optional.of(made.value())
                : Optional.empty();
    }

    private List<String> requested(Own own) {
        return RegisterClient.namesOf(approvals.ofClient(own.client().id()));
    }

    private static Actor itself(Client client, RegisterClient.Asked asked) {
        return new Actor(client.id(), client.name(), asked.from());
    }

    private record Own(Client client, SelfRegistration kept) {}

    /** RFC 7592 §2: for a client that is not there the answer is the same as for a wrong token. */
    private Optional<Own> own(Issuer issuer, String clientId, RegisterClient.Asked asked, Recorder decision) {
        Optional<SelfRegistration> kept =
                registrations.of(clientId).filter(it -> it.issuerId().equals(issuer.id()));
        Optional<SecretHash> presented = asked.bearer().map(SecretHash::of);
        Optional<Client> client = kept.filter(
                        it -> presented.filter(it.token()::matches).isPresent())
                .flatMap(it -> clients.named(issuer.id(), it.clientId()));
        if (client.filter(Client::enabled).isEmpty()) {
            decision.add(unusable());
            return Optional.empty();
        }
        decision.client(client.get().id(), client.get().name());
        decision.add(CheckResult.passed("registration-access-token", "the one of this client", "that one"));
        return Optional.of(new Own(client.get(), kept.orElseThrow()));
    }

    private static CheckResult unusable() {
        return CheckResult.refused(
                "registration-access-token",
                Reason.REGISTRATION_ACCESS_TOKEN_UNUSABLE,
                "the registration access token of this client, as the last change answered it",
                "another one, or none",
                Fix.of("Send the newest registration_access_token as Authorization: Bearer, or register again."));
    }

    private static Outcome refused(Recorder decision, CheckResult why) {
        decision.add(why);
        return new Outcome.Refused(decision.refusal().orElseThrow());
    }
}
