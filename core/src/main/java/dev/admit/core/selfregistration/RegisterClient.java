package dev.admit.core.selfregistration;

import dev.admit.core.approval.Approval;
import dev.admit.core.approval.Approving;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.FieldFault;
import dev.admit.core.change.RandomBits;
import dev.admit.core.change.Transactions;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import dev.admit.core.decision.Recorder;
import dev.admit.core.decision.Refusal;
import dev.admit.core.json.StrictJson;
import dev.admit.core.registration.ClientRegistration;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.Clients;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.NewSecret;
import dev.admit.core.registry.Scope;
import dev.admit.core.registry.SecretHash;
import dev.admit.core.tries.Strangers;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/** Registers a client that asks for it itself (RFC 7591 §3). Nothing is granted by that. */
public final class RegisterClient {
    /** More of them than anybody could look at, or than one who floods could make without a limit. */
    private static final int MOST_UNUSED = 1_000;

    private static final int LONGEST_NAME = 40;

    private final Transactions transactions;
    private final SelfRegistrations registrations;
    private final ClientRegistration registration;
    private final Approving approving;
    private final TakenNames taken;
    private final Requestable requestable;
    private final Strangers strangers;
    private final Clock clock;

    /** The scopes of an issuer that may be requested. */
    public interface Requestable {
        List<Scope> of(Issuer issuer, Instant now);
    }

    public RegisterClient(
            Transactions transactions,
            SelfRegistrations registrations,
            ClientRegistration registration,
            Approving approving,
            Clients clients,
            Requestable requestable,
            Strangers strangers,
            Clock clock) {
        this.transactions = transactions;
        this.registrations = registrations;
        this.registration = registration;
        this.approving = approving;
        this.taken = new TakenNames(clients);
        this.requestable = requestable;
        this.strangers = strangers;
        this.clock = clock;
    }

    /**
     * What is asked.
     *
     * @param bearer the initial access token; empty for none
     * @param body JSON, bounded in size
     * @param from the address it comes from
     */
    public record Asked(Optional<String> bearer, String body, String from) {
        @Override
        public String toString() {
            return "Asked[from " + from + "]";
        }
    }

    public sealed interface Outcome {
        /** @param body of a 201 */
        record Registered(Map<String, Object> body) implements Outcome {}

        record Refused(Refusal refusal) implements Outcome {}
    }

    public Outcome register(Issuer issuer, Asked asked, Recorder decision) {
        RegistrationPolicy policy =
                registrations.policy(issuer.id()).orElseGet(() -> RegistrationPolicy.closed(issuer.id()));
        Optional<InitialAccessToken> token =
                asked.bearer().map(SecretHash::of).flatMap(it -> registrations.token(issuer.id(), it));
        if (!decision.passes(isOpen(policy))
                || !decision.passes(mayCome(issuer, asked))
                || !decision.passes(tokenIsGood(policy, asked, token, decision.at())))
            return new Outcome.Refused(decision.refusal().orElseThrow());
        Optional<Map<String, Object>> said = StrictJson.object(asked.body());
        if (said.isEmpty()) return refused(decision, notJson());
        if (said.get().containsKey("software_statement")) return refused(decision, notTrusted());
        Limits limits = token.map(InitialAccessToken::limits).orElse(policy.limits());
        ClientMetadata.Read read = new ClientMetadata(
                        said.get(), limits, requestable.of(issuer, decision.at()), name -> taken.has(issuer, name))
                .read(name(said.get()));
        if (!read.faults().isEmpty())
            return refused(decision, notTaken(read.faults().getFirst()));
        return made(issuer, asked, token, limits, read, decision);
    }

    private Outcome made(
            Issuer issuer,
            Asked asked,
            Optional<InitialAccessToken> token,
            Limits limits,
            ClientMetadata.Read read,
            Recorder decision) {
        Actor by = new Actor(
                "", token.map(it -> "initial access token " + it.label()).orElse("the client itself"), asked.from());
        NewSecret manages = NewSecret.make();
        Change<ClientRegistration.Registered> change = transactions.inOne(() -> {
            if (token.isPresent() && !registrations.use(token.get().id(), decision.at()))
                return new Change.Refused<>("The initial access token has no use left.", "Ask for another.");
            Change<ClientRegistration.Registered> registered = registration.registerItself(issuer, read.wanted(), by);
            if (!(registered instanceof Change.Made<ClientRegistration.Registered> done)) return registered;
            Client client = done.value().client();
            for (String scope : read.scopes()) {
                Optional<FieldFault> fault = approving.faultOf(client, scope, "/scope");
                if (fault.isPresent()) return Change.invalid(fault.get());
                approving.note(client, scope, by);
            }
            registrations.insert(new SelfRegistration(
                    client.id(),
                    issuer.id(),
                    token.map(InitialAccessToken::label).orElse(""),
                    limits,
                    read.more(),
                    manages.hash(),
                    clock.instant(),
                    asked.from()));
            return registered;
        });
        return switch (change) {
            case Change.Made<ClientRegistration.Registered> done -> {
                ClientRegistration.Registered it = done.value();
                decision.client(it.client().id(), it.client().name());
                decision.add(CheckResult.passed(
                        "metadata",
                        "metadata that can be registered",
                        it.client().kind() + " client"));
                yield new Outcome.Registered(
                        told(issuer, it.client(), read.scopes(), read.more(), it.secret(), Optional.of(manages)));
            }
            case Change.Invalid<ClientRegistration.Registered>(List<FieldFault> faults) ->
                refused(decision, notTaken(faults.getFirst()));
            case Change.Refused<ClientRegistration.Registered> used -> refused(decision, unusable());
            default ->
                refused(
                        decision,
                        notTaken(new FieldFault(
                                "", "metadata that can be registered", "other metadata", "Ask an administrator.")));
        };
    }

    /**
     * RFC 7591 §3.2.1, RFC 7592 §3.
     *
     * @param manages the registration access token; empty where it is not shown again
     */
    static Map<String, Object> told(
            Issuer issuer,
            Client client,
            List<String> requested,
            Map<String, String> more,
            Optional<ClientRegistration.IssuedSecret> secret,
            Optional<NewSecret> manages) {
        Map<String, Object> body = ClientMetadata.of(client, requested, more);
        secret.ifPresent(it -> {
            body.put("client_secret", it.secret().reveal());
            body.put(
                    "client_secret_expires_at",
                    it.kept().expiresAt().map(Instant::getEpochSecond).orElse(0L));
        });
        manages.ifPresent(it -> body.put("registration_access_token", it.reveal()));
        body.put("registration_client_uri", issuer.url() + "/register/" + client.id());
        return body;
    }

    /** What people with an admin role find it by: what it calls itself, and letters that no other has. */
    private static String name(Map<String, Object> said) {
        String called = said.get("client_name") instanceof String text ? text : "client";
        String plain =
                called.toLowerCase(Locale.ROOT).replaceAll("[^a-z0-9]+", "-").replaceAll("^-+|-+$", "");
        String cut =
                plain.length() > LONGEST_NAME ? plain.substring(0, LONGEST_NAME).replaceAll("-+$", "") : plain;
        return (cut.isEmpty() ? "client" : cut) + "-" + RandomBits.letters("abcdefghijkmnpqrstuvwxyz23456789", 8);
    }

    private static CheckResult isOpen(RegistrationPolicy policy) {
        String expected = "an issuer where clients may register themselves";
        return policy.mode() != RegistrationPolicy.Mode.CLOSED
                ? CheckResult.passed("registration", expected, policy.mode().toString())
                : CheckResult.refused(
                        "registration",
                        Reason.REGISTRATION_CLOSED,
                        expected,
                        "one where an administrator registers them",
                        Fix.of("Ask an administrator to register the client.").by("an administrator"));
    }

    private CheckResult mayCome(Issuer issuer, Asked asked) {
        boolean may = strangers.mayBegin(asked.from()) && registrations.unused(issuer.id()) < MOST_UNUSED;
        String expected = "few registrations from one network in a minute, and few that were never used";
        return may
                ? CheckResult.passed("registrations", expected, "few")
                : CheckResult.refused(
                        "registrations",
                        Reason.TOO_MANY_REGISTRATIONS,
                        expected,
                        "too many",
                        Fix.of("Keep the client_id that was registered, and use it again."));
    }

    private static CheckResult tokenIsGood(
            RegistrationPolicy policy, Asked asked, Optional<InitialAccessToken> token, Instant now) {
        if (asked.bearer().isEmpty())
            return policy.mode() == RegistrationPolicy.Mode.OPEN
                    ? CheckResult.passed("initial-access-token", "none, or a good one", "none")
                    : CheckResult.refused(
                            "initial-access-token",
                            Reason.NO_INITIAL_ACCESS_TOKEN,
                            "an initial access token",
                            "none",
                            Fix.of("Send the token that you were given as Authorization: Bearer."));
        if (token.filter(it -> it.isGood(now)).isEmpty()) return unusable();
        return CheckResult.passed(
                "initial-access-token",
                "one of this issuer that has a use left",
                token.get().label());
    }

    private static CheckResult unusable() {
        return CheckResult.refused(
                "initial-access-token",
                Reason.INITIAL_ACCESS_TOKEN_UNUSABLE,
                "an initial access token of this issuer that has a use left and has not expired",
                "another one",
                Fix.of("Ask for another initial access token.").by("an administrator"));
    }

    private static CheckResult notJson() {
        return CheckResult.refused(
                "metadata",
                Reason.CLIENT_METADATA_NOT_TAKEN,
                "a JSON object of client metadata",
                "something else",
                Fix.of("Send a JSON object such as {'redirect_uris':['https://app.example/back']}."));
    }

    private static CheckResult notTrusted() {
        return CheckResult.refused(
                "metadata",
                Reason.SOFTWARE_STATEMENT_NOT_TRUSTED,
                "no software statement, because no signer of them is trusted here",
                "one",
                Fix.of("Leave software_statement out."));
    }

    static CheckResult notTaken(FieldFault fault) {
        return CheckResult.refused(
                "metadata",
                fault.pointer().startsWith("/redirect_uris")
                        ? Reason.REDIRECT_URI_NOT_TAKEN
                        : Reason.CLIENT_METADATA_NOT_TAKEN,
                "%s%s"
                        .formatted(
                                fault.pointer().isEmpty()
                                        ? ""
                                        : "in " + fault.pointer().substring(1) + " ",
                                fault.expected()),
                fault.received(),
                Fix.of(fault.fix()));
    }

    private static Outcome refused(Recorder decision, CheckResult why) {
        decision.add(why);
        return new Outcome.Refused(decision.refusal().orElseThrow());
    }

    static List<String> namesOf(List<Approval> approvals) {
        return approvals.stream().map(Approval::scopeName).sorted().toList();
    }
}
