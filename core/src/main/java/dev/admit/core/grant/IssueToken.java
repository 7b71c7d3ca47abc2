package dev.admit.core.grant;

import dev.admit.core.audit.AuditLine;
import dev.admit.core.audit.TokenEvents;
import dev.admit.core.change.Fields;
import dev.admit.core.clientauth.AuthenticateClient;
import dev.admit.core.clientauth.KnownClients;
import dev.admit.core.clientauth.KnownClient;
import dev.admit.core.clientauth.PresentedClient;
import dev.admit.core.configuration.IssuerInForce;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Decision;
import dev.admit.core.decision.Mend;
import dev.admit.core.decision.Reason;
import dev.admit.core.registry.ClientAuthMethod;
import dev.admit.core.registry.Issuer;
import dev.admit.core.token.MintingOrder;
import dev.admit.core.token.TokenId;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * A token request from wire to token: RFC 6749 §3.2 and §5. The steps stand in the order of refusal: malformed, client,
 * grant known, then what the grant itself wants, up to the minting.
 */
public final class IssueToken {
    private static final CheckResult FORM = CheckResult.passed("form", "a well-formed request", "one");
    private static final List<Grant> GRANTS = List.of(new ClientCredentialsGrant());
    /** The values of {@code grant_type} that the service has. */
    public static final Set<String> GRANT_TYPES = GRANTS.stream().map(Grant::type).collect(Collectors.toUnmodifiableSet());

    private final KnownClients directory;
    private final MintingOrder order;
    private final TokenEvents events;

    public IssueToken(KnownClients directory, MintingOrder order, TokenEvents events) {
        this.directory = directory;
        this.order = order;
        this.events = events;
    }

    /** The values of {@code grant_type} that are on at an issuer. */
    public static List<String> grantTypes(Issuer issuer) {
        return GRANTS.stream().map(Grant::type).filter(type -> isOn(type, issuer)).toList();
    }

    private static boolean isOn(String type, Issuer issuer) {
        return issuer.rules().grantTypes().isEmpty() || issuer.rules().grantTypes().contains(type);
    }

    /** @param decision gets every check; its clock is read once, by whoever made it */
    public GrantOutcome issue(TokenRequest request, IssuerInForce issuer, Decision.Builder decision) {
        Optional<FormParameters> form = readForm(request, decision);
        if (form.isEmpty()) return refused(decision, false);
        PresentedClient presented = PresentedClient.read(request.authorization(), form.get().one("client_id"), form.get().one("client_secret"));
        if (request.fromBrowser() && presented instanceof PresentedClient.WithSecret) {
            // RFC 6749 §2.1: what runs in a browser cannot keep a secret, so this one is known to whoever opens the page.
            decision.add(CheckResult.refused("browser", Reason.SECRET_FROM_BROWSER, "a secret that stays on a server", "one sent by a page in a browser",
                    Mend.of("Fetch the token on a server, and replace this secret: everyone who opened the page has it.", "admit secret add CLIENT")));
            return refused(decision, false);
        }
        // The id is drawn first, and all that the token leans on is read after it: see MintingOrder.
        Optional<GrantOutcome.Issued> issued = order.minting(id -> grant(form.get(), presented, issuer, id, decision));
        if (issued.isEmpty()) return refused(decision, triedBasic(presented));
        events.note(noteOf(issued.get(), issuer, decision));
        return issued.get();
    }

    private static AuditLine.Entry noteOf(GrantOutcome.Issued issued, IssuerInForce issuer, Decision.Builder decision) {
        String after = "{\"scope\":\"%s\",\"audience\":\"%s\"}".formatted(issued.scope(), issued.audience()); // neither can hold a quote
        return new AuditLine.Entry(issuer.issuer().id(), decision.at().truncatedTo(ChronoUnit.MILLIS), "token.issued", decision.clientName(),
                decision.clientId(), decision.from(), decision.api(), "", after, Optional.of(issued.token()));
    }

    private Optional<GrantOutcome.Issued> grant(FormParameters form, PresentedClient presented, IssuerInForce issuer, TokenId id,
                                                Decision.Builder decision) {
        Instant now = decision.at();
        Optional<KnownClient> client = AuthenticateClient.authenticate(presented, issuer.issuer().id(), directory, now, decision);
        if (client.isEmpty()) return Optional.empty();
        Optional<Grant> grant = chooseGrant(form, issuer.issuer(), decision);
        if (grant.isEmpty()) return Optional.empty();
        return grant.get().redeem(form, issuer, client.get(), id, now, decision);
    }

    private static Optional<FormParameters> readForm(TokenRequest request, Decision.Builder decision) {
        if (!request.contentType().equals("application/x-www-form-urlencoded")) {
            return malformed(Reason.MALFORMED_REQUEST, "a body of application/x-www-form-urlencoded",
                    request.contentType().isEmpty() ? "no content type" : "another content type", "Send the parameters as a form.", decision);
        }
        if (!request.query().isEmpty()) {
            return malformed(Reason.PARAMETER_IN_QUERY, "parameters in the body only", "a query",
                    "Move them to the body: queries are written to logs.", decision);
        }
        switch (FormParameters.read(request.body())) {
            case FormParameters.Reading.Malformed(String came) -> {
                return malformed(Reason.MALFORMED_REQUEST, "a form in percent-encoded UTF-8", came, "Encode it again.", decision);
            }
            case FormParameters.Reading.Good(FormParameters form) -> {
                Optional<String> repeated = form.repeated("resource");
                if (repeated.isPresent()) {
                    return malformed(Reason.REPEATED_PARAMETER, "each parameter once", "one of them twice", "Take one out; only resource may repeat.", decision);
                }
                decision.add(FORM);
                return Optional.of(form);
            }
        }
    }

    private static Optional<Grant> chooseGrant(FormParameters form, Issuer issuer, Decision.Builder decision) {
        Optional<String> type = form.one("grant_type");
        String known = String.join(", ", grantTypes(issuer));
        if (type.isEmpty()) {
            decision.add(CheckResult.refused("grant", Reason.MALFORMED_REQUEST, "grant_type", "none", Mend.of("Add grant_type=%s.".formatted(known))));
            return Optional.empty();
        }
        Optional<Grant> grant = GRANTS.stream().filter(it -> it.type().equals(type.get()) && isOn(type.get(), issuer)).findFirst();
        if (grant.isEmpty()) {
            decision.add(CheckResult.refused("grant", Reason.UNKNOWN_GRANT, known, Fields.quoted(type.get()),
                    Mend.of("Use a grant type of this issuer's metadata.")));
        } else {
            decision.add(CheckResult.passed("grant", known, type.get()));
        }
        return grant;
    }

    private static Optional<FormParameters> malformed(Reason reason, String expected, String came, String mend, Decision.Builder decision) {
        decision.add(CheckResult.refused("form", reason, expected, came, Mend.of(mend)));
        return Optional.empty();
    }

    private static boolean triedBasic(PresentedClient presented) {
        return switch (presented) {
            case PresentedClient.Unusable unusable -> unusable.triedBasic();
            case PresentedClient.WithSecret it -> it.method() == ClientAuthMethod.CLIENT_SECRET_BASIC;
        };
    }

    private static GrantOutcome refused(Decision.Builder decision, boolean triedBasic) {
        return new GrantOutcome.Refused(decision.refusal().orElseThrow(), triedBasic);
    }
}
