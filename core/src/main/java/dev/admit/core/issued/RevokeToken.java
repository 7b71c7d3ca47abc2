package dev.admit.core.issued;

import dev.admit.core.approval.Approval;
import dev.admit.core.approval.Withdrawal;
import dev.admit.core.audit.Audit;
import dev.admit.core.authorization.AuthorizationGrant;
import dev.admit.core.authorization.AuthorizationGrants;
import dev.admit.core.authorization.OneTimeSecret;
import dev.admit.core.authorization.RefreshToken;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.clientauth.AuthenticateClient;
import dev.admit.core.clientauth.KnownClient;
import dev.admit.core.configuration.CompiledIssuer;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Endpoint;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import dev.admit.core.decision.Recorder;
import dev.admit.core.decision.Refusal;
import dev.admit.core.grant.EndGrant;
import dev.admit.core.grant.FormRequest;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.SecretHash;
import dev.admit.core.token.Lifetime;
import dev.admit.core.token.RememberedTokens;
import dev.admit.core.token.TokenId;
import dev.admit.core.token.VerifiedToken;
import java.time.Instant;
import java.util.Map;
import java.util.Optional;

/** Ends tokens before their time: one that its client gives back (RFC 7009), or those that an operator names. */
public final class RevokeToken {
    private final AuthenticateClient clients;
    private final RememberedTokens tokens;
    private final Withdrawal withdrawal;
    private final Audit audit;
    private final AuthorizationGrants grants;
    private final EndGrant endGrant;

    public RevokeToken(
            AuthenticateClient clients,
            RememberedTokens tokens,
            Withdrawal withdrawal,
            Audit audit,
            AuthorizationGrants grants,
            EndGrant endGrant) {
        this.clients = clients;
        this.tokens = tokens;
        this.withdrawal = withdrawal;
        this.audit = audit;
        this.grants = grants;
        this.endGrant = endGrant;
    }

    /** What became of a client's request; a token that does not hold anyway is as good as revoked (§2.2). */
    public sealed interface Outcome {
        record Done() implements Outcome {}

        record Refused(Refusal refusal) implements Outcome {}
    }

    public Outcome revoke(FormRequest request, CompiledIssuer issuer, Recorder decision) {
        Optional<FormRequest.Read> read = request.read(decision);
        if (read.isEmpty()) return refused(decision);
        clients.prepare(read.get().presented(), decision);
        Optional<KnownClient> client = clients.authenticate(read.get().presented(), issuer.issuer(), decision);
        if (client.isEmpty()) return refused(decision);
        Optional<String> text = read.get().form().one("token");
        if (text.isEmpty()) {
            decision.add(
                    CheckResult.refused("token", Reason.MALFORMED_REQUEST, "token", "none", Fix.of("Add token=…")));
            return refused(decision);
        }
        Optional<RefreshToken> refresh = OneTimeSecret.isRefreshToken(text.get())
                ? grants.refreshToken(SecretHash.of(text.get()))
                : Optional.empty();
        if (refresh.isPresent()) return revoke(refresh.get(), client.get().client(), decision);
        Optional<VerifiedToken> token =
                tokens.verify(text.get(), issuer.tokens(), new Recorder(Endpoint.TOKEN, decision.at()));
        if (token.isEmpty()) {
            decision.done("nothing to revoke: the token is none of this issuer's");
            return new Outcome.Done();
        }
        if (!token.get().clientId().equals(client.get().client().id())) {
            // RFC 7009 §2.1: only the client that a token was issued to gives it back.
            decision.add(CheckResult.refused(
                    "token",
                    Reason.TOKEN_OF_ANOTHER_CLIENT,
                    "a token of this client",
                    "one of another",
                    Fix.of("Revoke it as the client that holds it.")));
            return refused(decision);
        }
        Client its = client.get().client();
        end(
                token.get().id(),
                Instant.ofEpochSecond(token.get().expiresAt()),
                issuer,
                its.name(),
                new Actor(its.id(), its.name(), decision.from()));
        decision.done("revoked the token " + token.get().id());
        return new Outcome.Done();
    }

    /**
     * The gateway signs a person out: everything of that authorization, or, where it has no refresh token, the one
     * token.
     */
    public void ofSignedOut(
            CompiledIssuer issuer,
            Client client,
            String accessToken,
            Optional<String> refreshToken,
            Recorder decision) {
        Optional<RefreshToken> refresh = refreshToken.flatMap(it -> grants.refreshToken(SecretHash.of(it)));
        if (refresh.isPresent()) revoke(refresh.get(), client, decision);
        else
            tokens.verify(accessToken, issuer.tokens(), new Recorder(Endpoint.TOKEN, decision.at()))
                    .ifPresent(token -> {
                        Optional<AuthorizationGrant> grant = grants.find(token.grantId());
                        if (grant.isPresent())
                            endGrant.end(
                                    grant.get(),
                                    "grant.ended",
                                    new Actor(client.id(), client.name(), decision.from()),
                                    decision.at());
                        else
                            end(
                                    token.id(),
                                    Instant.ofEpochSecond(token.expiresAt()),
                                    issuer,
                                    client.name(),
                                    new Actor(client.id(), client.name(), decision.from()));
                        decision.done("ended what the sign-in led to");
                    });
    }

    /** With a refresh token goes everything of the same authorization (RFC 7009 §2.1). */
    private Outcome revoke(RefreshToken token, Client client, Recorder decision) {
        if (!token.clientId().equals(client.id())) {
            decision.add(CheckResult.refused(
                    "token",
                    Reason.TOKEN_OF_ANOTHER_CLIENT,
                    "a token of this client",
                    "one of another",
                    Fix.of("Revoke it as the client that holds it.")));
            return refused(decision);
        }
        grants.find(token.grantId())
                .ifPresent(grant -> endGrant.end(
                        grant, "grant.ended", new Actor(client.id(), client.name(), decision.from()), decision.at()));
        decision.done("ended everything of the same authorization");
        return new Outcome.Done();
    }

    private Change<String> end(TokenId id, Instant expiresAt, CompiledIssuer issuer, String on, Actor by) {
        return withdrawal.revoking(revoke -> {
            revoke.token(id, expiresAt);
            audit.added(by, issuer.issuer().id(), "token.revoked", on, Map.of("token", id.toString()));
            return Change.made(id.toString());
        });
    }

    private static Outcome refused(Recorder decision) {
        return new Outcome.Refused(decision.refusal().orElseThrow());
    }

    /**
     * Ends one token by its id, the one who holds it. It need not be known: what is revoked stays so until any token
     * would have expired.
     */
    public Change<String> one(TokenId id, CompiledIssuer issuer, Instant now, Actor by) {
        return end(id, now.plus(Lifetime.LONGEST), issuer, id.toString(), by);
    }

    /** Ends every token of a client. It can fetch new ones. */
    public Change<String> ofClient(Client client, Actor by) {
        return withdrawal.revoking(revoke -> {
            revoke.client(client.id());
            audit.added(by, client.issuerId(), "token.revoked", client.name(), Map.of("client", client.id()));
            return Change.made(client.name());
        });
    }

    /** Ends every token for an API. */
    public Change<String> forApi(Api api, Actor by) {
        return withdrawal.revoking(revoke -> {
            revoke.api(api.issuerId(), api.audience());
            audit.added(by, api.issuerId(), "token.revoked", api.name(), Map.of("audience", api.audience()));
            return Change.made(api.name());
        });
    }

    /** Ends every token that leans on an approval. The approval stays: the client can fetch new ones. */
    public Change<String> leaningOn(Approval approval, Actor by) {
        return withdrawal.revoking(revoke -> {
            revoke.approval(approval);
            audit.added(
                    by,
                    approval.issuerId(),
                    "token.revoked",
                    approval.scopeName(),
                    Map.of("client", approval.clientId(), "scope", approval.scopeName()));
            return Change.made(approval.scopeName());
        });
    }
}
