package dev.admit.core.grant;

import dev.admit.core.clientauth.KnownClient;
import dev.admit.core.configuration.IssuerInForce;
import dev.admit.core.decision.Decision;
import dev.admit.core.token.TokenId;
import java.time.Instant;
import java.util.Optional;

/** A client on its own (RFC 6749 §4.4): {@code sub} is the client itself, and there is no refresh token. */
final class ClientCredentialsGrant implements Grant {
    @Override public String type() {
        return "client_credentials";
    }

    @Override public Optional<GrantOutcome.Issued> redeem(FormParameters form, IssuerInForce issuer, KnownClient client, TokenId id,
                                                          Instant now, Decision.Builder decision) {
        Optional<Entitlement> entitled = new ChooseScopes(issuer, client, now, decision).choose(form.one("scope"), form.all("resource"));
        if (entitled.isEmpty()) return Optional.empty();
        return MintFor.client(client.client(), type(), entitled.get(), issuer, id, now, decision);
    }
}
