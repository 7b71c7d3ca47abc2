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
import dev.admit.core.registry.Clients;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Look;
import dev.admit.core.registry.NewSecret;
import dev.admit.core.registry.SecretHash;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Lets a client that registered itself read, change and remove its registration (RFC 7592). */
public final class ManageClient {
    private final SelfRegistrations registrations;
    private final ClientRegistration registration;
    private final Approving approving;
    private final Approvals approvals;
    private final PersonalApprovals personal;
    private final Clients clients;
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
            default -> refused(decision, unusable());
        };
    }

    /**
     * Puts other metadata in the place of what is there, with a new registration access token. What people approved
     * ends where the client changes what they saw when they approved it.
     */
    public Outcome change(Issuer issuer, String clientId, RegisterClient.Asked asked, Recorder decision) {
        Optional<Own> own = own(issuer, clientId, asked, decision);
        if (own.isEmpty()) return new Outcome.Refused(decision.refusal().orElseThrow());
        Optional<Map<String, Object>> said = StrictJson.object(asked.body());
        if (said.isEmpty() || !clientId.equals(said.get().get("client_id")))
            return refused(
                    decision,
                    RegisterClient.notTaken(new FieldFault(
                            "/client_id",
                            "a JSON object of all its metadata, with its client_id",
                            "another",
                            "Send what was registered, changed.")));
        Client client = own.get().client();
        SelfRegistration kept = own.get().kept();
        ClientMetadata.Read read = new ClientMetadata(
                        said.get(),
                        kept.limits(),
                        requestable.of(issuer, decision.at()),
                        name -> clients.looksTaken(issuer.id(), name)
                                || Look.skeleton(name).equals(Look.skeleton(issuer.title())))
                .read(client.name());
        Optional<FieldFault> otherwise = otherProof(client, read.kind());
        if (otherwise.isPresent()) return refused(decision, RegisterClient.notTaken(otherwise.get()));
        if (!read.faults().isEmpty())
            return refused(decision, RegisterClient.notTaken(read.faults().getFirst()));
        NewSecret manages = NewSecret.make();
        Actor by = itself(client, asked);
        Change<Client> change = withdrawal.revoking(revoke -> {
            Change<Client> made = registration.change(issuer, client.id(), read.wanted(), Expected.ANY, by);
            if (!(made instanceof Change.Made<Client>(Client changed, List<String> notes))) return made;
            Optional<FieldFault> fault = request(changed, read.scopes(), by);
            if (fault.isPresent()) return Change.invalid(fault.get());
            if (looksOtherwise(client, changed)) {
                personal.deleteOfClient(client.id());
                revoke.client(client.id());
            }
            SelfRegistration now = new SelfRegistration(
                    client.id(),
                    issuer.id(),
                    kept.by(),
                    kept.limits(),
                    read.more(),
                    manages.hash(),
                    kept.registeredAt(),
                    kept.from());
            return registrations.replace(now, kept.token())
                    ? made
                    : new Change.Refused<>("Another change came first.", "Use the token that it was answered.");
        });
        return switch (change) {
            case Change.Made<Client>(Client changed, List<String> notes) ->
                new Outcome.Told(RegisterClient.told(
                        issuer, changed, read.scopes(), read.more(), Optional.empty(), Optional.of(manages)));
            case Change.Invalid<Client>(List<FieldFault> faults) ->
                refused(decision, RegisterClient.notTaken(faults.getFirst()));
            default -> refused(decision, unusable());
        };
    }

    /** Another way to prove itself would want a secret, or leave one behind that is of no use. */
    private static Optional<FieldFault> otherProof(Client client, ClientKind wanted) {
        if (client.kind().confidential() == wanted.confidential()) return Optional.empty();
        return Optional.of(new FieldFault(
                "/token_endpoint_auth_method",
                client.tokenEndpointAuthMethod() + ", as it was registered",
                wanted.confidential() ? "a method that wants a credential" : "none",
                "Register another client."));
    }

    /** What a person saw when they approved the client: its name, and where they were sent. */
    private static boolean looksOtherwise(Client before, Client after) {
        return !before.clientName().equals(after.clientName())
                || !before.addresses().equals(after.addresses())
                || before.kind() != after.kind();
    }

    private Optional<FieldFault> request(Client client, List<String> wanted, Actor by) {
        List<Approval> before = approvals.ofClient(client.id());
        for (Approval it : before)
            if (!wanted.contains(it.scopeName()) && !it.lastWord()) approving.drop(client, it, by);
        for (String scope : wanted) {
            if (before.stream().anyMatch(it -> it.scopeName().equals(scope))) continue;
            Optional<FieldFault> fault = approving.faultOf(client, scope, "/scope");
            if (fault.isPresent()) return fault;
            approving.note(client, scope, by);
        }
        return Optional.empty();
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
