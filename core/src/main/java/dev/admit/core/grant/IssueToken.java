package dev.admit.core.grant;

import dev.admit.core.audit.AuditLine;
import dev.admit.core.audit.TokenEvents;
import dev.admit.core.change.Fields;
import dev.admit.core.clientauth.AuthenticateClient;
import dev.admit.core.clientauth.KnownClient;
import dev.admit.core.configuration.IssuerInForce;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Decision;
import dev.admit.core.decision.Mend;
import dev.admit.core.decision.Reason;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.Issuer;
import dev.admit.core.token.MintingOrder;
import dev.admit.core.token.OpaqueTokens;
import dev.admit.core.token.TokenId;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * A token request from wire to token: RFC 6749 §3.2 and §5. The steps stand in the order of refusal: malformed, client,
 * grant known, grant allowed, then what the grant itself wants, up to the minting.
 */
public final class IssueToken {
    private static final List<Grant> GRANTS = List.of(new ClientCredentialsGrant());
    /** The values of {@code grant_type} that the service has. */
    public static final Set<String> GRANT_TYPES = GRANTS.stream().map(Grant::type).collect(Collectors.toUnmodifiableSet());

    private final AuthenticateClient authenticate;
    private final MintingOrder order;
    private final OpaqueTokens opaque;
    private final TokenEvents events;

    public IssueToken(AuthenticateClient authenticate, MintingOrder order, OpaqueTokens opaque, TokenEvents events) {
        this.authenticate = authenticate;
        this.order = order;
        this.opaque = opaque;
        this.events = events;
    }

    /** The values of {@code grant_type} that are on at an issuer. */
    public static List<String> grantTypes(Issuer issuer) {
        return GRANTS.stream().map(Grant::type).filter(issuer.rules()::allows).toList();
    }

    /** @param decision gets every check; its clock is read once, by whoever made it */
    public GrantOutcome issue(FormRequest request, IssuerInForce issuer, Decision.Builder decision) {
        Optional<FormRequest.Read> read = request.read(decision);
        if (read.isEmpty()) return refused(decision);
        authenticate.prepare(read.get().presented(), decision.at());
        // The id is drawn first, and all that the token leans on is read after it: see MintingOrder.
        Optional<GrantOutcome.Issued> issued = order.minting(id -> grant(read.get(), issuer, id, decision));
        if (issued.isEmpty()) return refused(decision);
        issued.get().kept().ifPresent(opaque::insert);
        events.note(noteOf(issued.get(), issuer, decision));
        return issued.get();
    }

    private static GrantOutcome refused(Decision.Builder decision) {
        return new GrantOutcome.Refused(decision.refusal().orElseThrow());
    }

    private static AuditLine.Entry noteOf(GrantOutcome.Issued issued, IssuerInForce issuer, Decision.Builder decision) {
        // None of the values can hold a quote.
        String after = "{\"scope\":\"" + issued.scope() + "\",\"audience\":\"" + issued.audience() + "\",\"kid\":\"" + issued.kid() + "\"}";
        return new AuditLine.Entry(issuer.issuer().id(), decision.at().truncatedTo(ChronoUnit.MILLIS), "token.issued", decision.clientName(),
                decision.clientId(), decision.from(), decision.api(), "", after, Optional.of(issued.token()));
    }

    private Optional<GrantOutcome.Issued> grant(FormRequest.Read read, IssuerInForce issuer, TokenId id, Decision.Builder decision) {
        Instant now = decision.at();
        Optional<KnownClient> client = authenticate.authenticate(read.presented(), issuer.issuer(), now, decision);
        if (client.isEmpty()) return Optional.empty();
        Optional<Grant> grant = chooseGrant(read.form(), issuer.issuer(), client.get().client(), decision);
        if (grant.isEmpty()) return Optional.empty();
        return grant.get().redeem(read.form(), issuer, client.get(), id, now, decision);
    }

    private static Optional<Grant> chooseGrant(FormParameters form, Issuer issuer, Client client, Decision.Builder decision) {
        Optional<String> type = form.one("grant_type");
        String known = String.join(", ", grantTypes(issuer));
        if (type.isEmpty()) {
            decision.add(CheckResult.refused("grant", Reason.MALFORMED_REQUEST, "grant_type", "none", Mend.of("Add grant_type=%s.".formatted(known))));
            return Optional.empty();
        }
        Optional<Grant> grant = GRANTS.stream().filter(it -> it.type().equals(type.get()) && issuer.rules().allows(it.type())).findFirst();
        if (grant.isEmpty()) {
            decision.add(CheckResult.refused("grant", Reason.UNKNOWN_GRANT, known.isEmpty() ? "no grant type: none is on here" : known, Fields.quoted(type.get()),
                    GRANT_TYPES.contains(type.get()) ? Mend.of("Have it switched on for this issuer.", "admit issuer change %s --grant-type %s".formatted(issuer.name(), type.get())).by("an operator")
                            : Mend.of("Use a grant type of this issuer's metadata.")));
            return grant;
        }
        if (!client.mayUse(type.get())) {
            decision.add(CheckResult.refused("grant", Reason.GRANT_NOT_ALLOWED, "a grant type that %s may use".formatted(client.name()), type.get(),
                    client.kind().confidential() ? Mend.of("Have it switched on for this client.", "admit client change %s --grant-type %s".formatted(client.name(), type.get())).by("an operator")
                            : Mend.of("A client of kind %s acts for people only; register kind service for a program on its own.".formatted(client.kind()))));
            return Optional.empty();
        }
        decision.add(CheckResult.passed("grant", known, type.get()));
        return grant;
    }
}
