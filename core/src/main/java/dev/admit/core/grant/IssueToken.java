package dev.admit.core.grant;

import dev.admit.core.audit.AuditJson;
import dev.admit.core.audit.AuditLine;
import dev.admit.core.audit.TokenEvents;
import dev.admit.core.authorization.AuthorizationGrant;
import dev.admit.core.authorization.DeviceRequests;
import dev.admit.core.authorize.GrantTypes;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Fields;
import dev.admit.core.clientauth.AuthenticateClient;
import dev.admit.core.clientauth.KnownClient;
import dev.admit.core.clientauth.PresentedClient;
import dev.admit.core.configuration.CompiledIssuer;
import dev.admit.core.decision.Action;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Checked;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import dev.admit.core.decision.Recorder;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.Issuer;
import dev.admit.core.token.MintingOrder;
import dev.admit.core.token.OpaqueTokens;
import java.time.temporal.ChronoUnit;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * A token request from wire to token: RFC 6749 §3.2 and §5. The steps stand in the order of refusal: malformed, client,
 * grant known, grant allowed, then what the grant itself wants, up to the minting.
 */
public final class IssueToken {
    /** The values of {@code grant_type} that the service has. */
    public static final Set<String> GRANT_TYPES = Set.of(
            ClientCredentialsGrant.TYPE, AuthorizationCodeGrant.TYPE, RefreshTokenGrant.TYPE, DeviceCodeGrant.TYPE);

    private final AuthenticateClient authenticate;
    private final MintingOrder order;
    private final OpaqueTokens opaque;
    private final TokenEvents events;
    private final EndGrant endGrant;
    private final ClientCredentialsGrant clientsOwn;
    private final AuthorizationCodeGrant forCode;
    private final List<Grant> grants;

    public IssueToken(
            AuthenticateClient authenticate,
            MintingOrder order,
            OpaqueTokens opaque,
            TokenEvents events,
            EndGrant endGrant,
            TokensForPerson forPerson,
            DeviceRequests devices) {
        this.authenticate = authenticate;
        this.order = order;
        this.opaque = opaque;
        this.events = events;
        this.endGrant = endGrant;
        this.clientsOwn = new ClientCredentialsGrant();
        this.forCode = new AuthorizationCodeGrant(forPerson);
        this.grants =
                List.of(clientsOwn, forCode, new RefreshTokenGrant(forPerson), new DeviceCodeGrant(devices, forPerson));
    }

    /** The values of {@code grant_type} that are on at an issuer. */
    public static List<String> grantTypes(Issuer issuer) {
        return GRANT_TYPES.stream().filter(issuer.settings()::allows).sorted().toList();
    }

    /** Who asks, and so how the client is known. */
    private sealed interface Asker {
        /** The client itself, with what proves it. */
        record Itself(PresentedClient presented) implements Asker {}

        /** The gateway, in this very process, as a client that a route names: nobody is to be authenticated. */
        record TheGateway(Client asFound) implements Asker {}

        /** An operator, who tries the client without its credential. */
        record AnOperator(Trial trial, Client asFound) implements Asker {}
    }

    /** @param decision gets every check; its clock is read once, by the one who made it */
    public GrantOutcome issue(FormRequest request, CompiledIssuer issuer, Recorder decision) {
        Optional<FormRequest.Read> read = request.read(decision);
        if (read.isEmpty()) return refused(decision);
        authenticate.prepare(read.get().presented(), decision);
        return issue(new Asker.Itself(read.get().presented()), read.get().form(), issuer, decision);
    }

    /** The gateway asks, in this very process, as a client that a route names: there is nobody to be authenticated. */
    public GrantOutcome issueToGateway(
            FormParameters form, KnownClient client, CompiledIssuer issuer, Recorder decision) {
        decision.client(client.client().id(), client.client().name());
        return issue(new Asker.TheGateway(client.client()), form, issuer, decision);
    }

    /**
     * A trial token, for an operator who calls as a client without its credential: what the client itself would get, or
     * with a code what it would get for the person who signed in.
     *
     * @param form {@code scope} and {@code resource}; for a person those of RFC 6749 §4.1.3
     */
    public GrantOutcome issueTrial(
            Trial trial, FormParameters form, KnownClient client, CompiledIssuer issuer, Recorder decision) {
        decision.client(client.client().id(), client.client().name());
        return issue(new Asker.AnOperator(trial, client.client()), form, issuer, decision);
    }

    /**
     * The line of a token request: client, grant, then the grant's own stages up to the minting. The id is drawn first,
     * and all that the token leans on is read after it, the client with what it was granted as well: see
     * {@link MintingOrder}.
     */
    private GrantOutcome issue(Asker asker, FormParameters form, CompiledIssuer issuer, Recorder decision) {
        Grant.Result result = order.minting(id -> {
            KnownClient client = findClient(asker, issuer, decision);
            if (client == null) return new Grant.Result.Refused();
            Grant grant = decision.take(chooseGrant(asker, form, issuer.issuer(), client.client()));
            if (grant == null) return new Grant.Result.Refused();
            return grant.redeem(new Redemption(form, trialOf(asker), issuer, client, id, decision.at()), decision);
        });
        return switch (result) {
            case Grant.Result.Issued(GrantOutcome.Issued issued) -> {
                issued.kept().ifPresent(opaque::insert);
                events.note(noteOf(issued, issuer, decision));
                decision.done((issued.kept().isEmpty() ? "minted a JWT for " : "minted an opaque token for ")
                        + issued.audience());
                yield issued;
            }
            case Grant.Result.Refused refused -> refused(decision);
            case Grant.Result.Misused(AuthorizationGrant grant) -> {
                // Only now: a withdrawal waits until no minting is under way.
                endGrant.misused(
                        grant, new Actor(grant.clientId(), decision.clientName(), decision.from()), decision.at());
                decision.done("ended everything of the same authorization");
                yield refused(decision);
            }
        };
    }

    private static Optional<Trial> trialOf(Asker asker) {
        return asker instanceof Asker.AnOperator(Trial trial, Client asFound) ? Optional.of(trial) : Optional.empty();
    }

    /** @return the client as it is now; null where a check refused */
    private @Nullable KnownClient findClient(Asker asker, CompiledIssuer issuer, Recorder decision) {
        return switch (asker) {
            case Asker.Itself(PresentedClient presented) ->
                authenticate.authenticate(presented, issuer.issuer(), decision).orElse(null);
            case Asker.TheGateway(Client asFound) -> {
                decision.add(new CheckResult.Skipped(
                        "client-authentication",
                        "the gateway itself asks, for a route that signs people in as this client"));
                yield decision.take(switchedOn(asFound));
            }
            case Asker.AnOperator(Trial trial, Client asFound) -> {
                decision.add(new CheckResult.Skipped(
                        "client-authentication",
                        "a trial token, had made by " + trial.operator().name()));
                KnownClient client = decision.take(switchedOn(asFound));
                yield client == null ? null : decision.take(mayTry(trial, client, issuer));
            }
        };
    }

    private Checked<KnownClient> switchedOn(Client asFound) {
        return authenticate
                .known(asFound.id())
                .filter(it -> it.client().enabled())
                .map(Checked::passed)
                .orElseGet(() -> Checked.refused(
                        "client",
                        Reason.CLIENT_SWITCHED_OFF,
                        "a client that is switched on",
                        "one that is off",
                        Fix.of("Have it switched on.", Action.of("client", "on", asFound.name()))
                                .by("an operator")));
    }

    private static Checked<KnownClient> mayTry(Trial trial, KnownClient client, CompiledIssuer issuer) {
        return trial.mayBeOf(client, issuer)
                ? Checked.passed(client)
                : Checked.refused(
                        "trial",
                        Reason.TRIAL_OF_ADMIN_CLIENT,
                        "an administrator, because the client can run Admit",
                        trial.operator().name(),
                        Fix.of("Try another client.").by("an administrator"));
    }

    /** An operator's trial is of the client itself, or with a code of a person who signed in. */
    private Checked<Grant> chooseGrant(Asker asker, FormParameters form, Issuer issuer, Client client) {
        if (!(asker instanceof Asker.AnOperator)) return chooseGrant(form, issuer, client);
        if (form.one("code").isPresent()) return Checked.passed(forCode);
        return client.mayUse(ClientCredentialsGrant.TYPE)
                ? Checked.passed(clientsOwn)
                : Checked.refused(
                        "grant",
                        Reason.GRANT_NOT_ALLOWED,
                        "a client that acts on its own",
                        "%s of kind %s".formatted(client.name(), client.kind()),
                        Fix.of("Choose to call as a person, who signs in for it; the console does that."));
    }

    private Checked<Grant> chooseGrant(FormParameters form, Issuer issuer, Client client) {
        Optional<String> type = form.one("grant_type");
        String known = String.join(", ", grantTypes(issuer));
        if (type.isEmpty())
            return Checked.refused(
                    "grant",
                    Reason.MALFORMED_REQUEST,
                    "grant_type",
                    "none",
                    Fix.of("Add grant_type=%s.".formatted(known)));
        Optional<Grant> grant = grants.stream()
                .filter(it -> it.type().equals(type.get()) && issuer.settings().allows(it.type()))
                .findFirst();
        if (grant.isEmpty())
            return Checked.refused(
                    "grant",
                    Reason.UNKNOWN_GRANT,
                    known.isEmpty() ? "no grant type: none is on here" : known,
                    Fields.quoted(type.get()),
                    GRANT_TYPES.contains(type.get())
                            ? GrantTypes.fix(issuer, client, type.get())
                            : Fix.of("Use a grant type of this issuer's metadata."));
        return client.mayUse(type.get())
                ? Checked.passed(grant.get(), CheckResult.passed("grant", known, type.get()))
                : Checked.refused(
                        "grant",
                        Reason.GRANT_NOT_ALLOWED,
                        "a grant type that %s may use".formatted(client.name()),
                        type.get(),
                        GrantTypes.fix(issuer, client, type.get()));
    }

    private static GrantOutcome refused(Recorder decision) {
        return new GrantOutcome.Refused(decision.refusal().orElseThrow());
    }

    private static AuditLine.Entry noteOf(GrantOutcome.Issued issued, CompiledIssuer issuer, Recorder decision) {
        Map<String, Object> after = new LinkedHashMap<>();
        after.put("scope", issued.scope());
        after.put("audience", issued.audience());
        after.put("kid", issued.kid());
        // By which a token is found to be ended, without the token.
        issued.onBehalf().ifPresent(it -> {
            after.put("sub", issued.subject());
            after.put("grant", it.grantId());
            it.sessionId().ifPresent(sid -> after.put("sid", sid));
        });
        return new AuditLine.Entry(
                issuer.issuer().id(),
                decision.at().truncatedTo(ChronoUnit.MILLIS),
                "token.issued",
                decision.clientName(),
                decision.clientId(),
                decision.from(),
                decision.api(),
                "",
                AuditJson.json(after),
                Optional.of(issued.token()));
    }
}
