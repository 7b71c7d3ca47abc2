package dev.admit.core.issued;

import dev.admit.core.clientauth.AuthenticateClient;
import dev.admit.core.clientauth.KnownClient;
import dev.admit.core.clientauth.PresentedClient;
import dev.admit.core.clientauth.SlowedGuessing;
import dev.admit.core.configuration.CompiledIssuer;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Endpoint;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import dev.admit.core.decision.Recorder;
import dev.admit.core.decision.Refusal;
import dev.admit.core.grant.FormRequest;
import dev.admit.core.token.RememberedTokens;
import dev.admit.core.token.TokenCheck;
import dev.admit.core.token.VerifiedToken;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.function.Predicate;

/**
 * Tells an API what stands behind a token (RFC 7662): whether it holds now, and what it says. An API sees tokens for
 * itself only, a client its own only; of every other it hears that it does not hold (§4).
 */
public final class IntrospectToken {
    private final AuthenticateClient clients;
    private final SlowedGuessing guessing;
    private final RememberedTokens tokens;

    public IntrospectToken(AuthenticateClient clients, SlowedGuessing guessing, RememberedTokens tokens) {
        this.clients = clients;
        this.guessing = guessing;
        this.tokens = tokens;
    }

    /** What came of it. */
    public sealed interface Outcome {
        /** @param members of the answer; with {@code active} false there is no other */
        record Told(Map<String, Object> members) implements Outcome {}

        record Refused(Refusal refusal) implements Outcome {}
    }

    public Outcome introspect(FormRequest request, CompiledIssuer issuer, Recorder decision) {
        Optional<FormRequest.Read> read = request.read(decision);
        if (read.isEmpty()) return refused(decision);
        clients.prepare(read.get().presented(), decision);
        Optional<Predicate<VerifiedToken>> sees = whatTheCallerSees(read.get(), issuer, decision);
        if (sees.isEmpty()) return refused(decision);
        Optional<String> token = read.get().form().one("token");
        if (token.isEmpty()) {
            decision.add(
                    CheckResult.refused("token", Reason.MALFORMED_REQUEST, "token", "none", Fix.of("Add token=…")));
            return refused(decision);
        }
        // What is wrong with the token is no refusal of this request; it goes into a decision of its own, for the one
        // phrase.
        Recorder ofToken = new Recorder(Endpoint.TOKEN, decision.at());
        Optional<VerifiedToken> good = tokens.verify(token.get(), issuer.tokens(), ofToken)
                .filter(it -> holds(it, issuer, ofToken))
                .filter(sees.get());
        if (good.isEmpty()) {
            decision.done("told that the token does not hold: "
                    + ofToken.refusal().map(why -> why.reason().toString()).orElse("not the caller's to see"));
            return new Outcome.Told(Map.of("active", false));
        }
        decision.done("told what the token of %s says".formatted(good.get().clientId()));
        return new Outcome.Told(members(good.get()));
    }

    private Optional<Predicate<VerifiedToken>> whatTheCallerSees(
            FormRequest.Read read, CompiledIssuer issuer, Recorder decision) {
        if (read.presented() instanceof PresentedClient.WithSecret presented && AuthenticateApi.isMeant(presented))
            return AuthenticateApi.authenticate(presented, issuer, guessing, decision)
                    .map(api -> token -> token.audiences().contains(api.audience()));
        Optional<KnownClient> client = clients.authenticate(read.presented(), issuer.issuer(), decision);
        if (client.isPresent() && !client.get().client().kind().confidential()) {
            // RFC 7662 §2.1: the one who has no credential could try tokens out here.
            decision.add(CheckResult.refused(
                    "client-authentication",
                    Reason.NO_CLIENT_AUTHENTICATION,
                    "a client or an API with a credential",
                    "a client without one",
                    Fix.of("Ask as the API, with a secret of its own.")));
            return Optional.empty();
        }
        // RFC 7662 §2.1: a client sees its own tokens; one that an administrator named sees all of the issuer.
        return client.map(it -> token -> it.client().mayIntrospect()
                || token.clientId().equals(it.client().id()));
    }

    private static boolean holds(VerifiedToken token, CompiledIssuer issuer, Recorder decision) {
        for (TokenCheck check : issuer.everywhere()) {
            if (!decision.passes(check.on(token, decision.at()))) return false;
        }
        return true;
    }

    /** RFC 7662 §2.2. */
    private static Map<String, Object> members(VerifiedToken token) {
        Map<String, Object> members = new LinkedHashMap<>(token.extra());
        members.put("active", true);
        members.put("iss", token.issuer());
        members.put("sub", token.subject());
        members.put("aud", token.audiences().size() == 1 ? token.audiences().getFirst() : token.audiences());
        members.put("client_id", token.clientId());
        members.put("scope", token.scopeText());
        members.put("token_type", "Bearer");
        members.put("jti", token.id().toString());
        members.put("iat", token.issuedAt());
        members.put("exp", token.expiresAt());
        if (token.notBefore() > 0) members.put("nbf", token.notBefore());
        return members;
    }

    private static Outcome refused(Recorder decision) {
        return new Outcome.Refused(decision.refusal().orElseThrow());
    }
}
