package dev.admit.core.grant;

import dev.admit.core.audit.AuditLine;
import dev.admit.core.clientauth.KnownClient;
import dev.admit.core.configuration.IssuerInForce;
import dev.admit.core.decision.Decision;
import dev.admit.core.token.Lifetime;
import dev.admit.core.token.MintAccessToken;
import dev.admit.core.token.TokenId;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.Optional;

/** A client on its own (RFC 6749 §4.4): {@code sub} is the client itself, and there is no refresh token. */
final class ClientCredentialsGrant implements Grant {
    @Override public String type() {
        return "client_credentials";
    }

    @Override public Optional<GrantOutcome.Issued> redeem(FormParameters form, IssuerInForce issuer, KnownClient client, TokenId id,
                                                          Instant now, Decision.Builder decision) {
        return new ChooseScopes(issuer, client, now, decision).choose(form.one("scope"), form.all("resource"))
                .map(entitled -> mint(entitled, issuer, client, id, now, decision));
    }

    private static GrantOutcome.Issued mint(Entitlement entitled, IssuerInForce issuer, KnownClient client, TokenId id, Instant now,
                                            Decision.Builder decision) {
        Instant issuedAt = now.truncatedTo(ChronoUnit.SECONDS);
        Instant usual = issuedAt.plus(Lifetime.OF_ACCESS_TOKENS);
        // A token never outlives the approval it leans on; with the second cut off it may end a moment earlier.
        Instant expiresAt = entitled.until().isBefore(usual) ? entitled.until().truncatedTo(ChronoUnit.SECONDS) : usual;
        String clientId = client.client().id();
        String token = MintAccessToken.mint(new MintAccessToken.Grant(issuer.url(), clientId, entitled.api().audience(), clientId,
                entitled.scopeNames(), issuedAt, expiresAt, id), issuer.keys().activeAt(now));
        decision.done("minted an access token for " + entitled.api().audience());
        return new GrantOutcome.Issued(token, expiresAt.getEpochSecond() - issuedAt.getEpochSecond(), String.join(" ", entitled.scopeNames()),
                new AuditLine.Token(id.toString(), expiresAt), entitled.api().audience());
    }
}
