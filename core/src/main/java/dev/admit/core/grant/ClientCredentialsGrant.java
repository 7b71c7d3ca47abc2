package dev.admit.core.grant;

import dev.admit.core.clientauth.KnownClient;
import dev.admit.core.configuration.CompiledIssuer;
import dev.admit.core.decision.Decision;
import dev.admit.core.token.TokenId;
import java.time.Instant;
import java.util.Optional;

/** A client on its own (RFC 6749 §4.4): {@code sub} is the client itself, and there is no refresh token. */
final class ClientCredentialsGrant implements Grant {
    static final String TYPE = "client_credentials";

    @Override
    public String type() {
        return TYPE;
    }

    @Override
    public Result redeem(
            FormParameters form,
            CompiledIssuer issuer,
            KnownClient client,
            TokenId id,
            Instant now,
            Decision.Builder decision) {
        return redeem(form, Optional.empty(), issuer, client, id, now, decision);
    }

    /** @param trial where an operator tries the client */
    Result redeem(
            FormParameters form,
            Optional<Trial> trial,
            CompiledIssuer issuer,
            KnownClient client,
            TokenId id,
            Instant now,
            Decision.Builder decision) {
        return new ChooseScopes(issuer, client, now, decision)
                .choose(form.one("scope"), form.all("resource"))
                .map(entitled -> trial.map(it -> it.limiting(entitled, now)).orElse(entitled))
                .flatMap(entitled -> MintFor.client(client.client(), type(), entitled, issuer, id, now, decision))
                .<Result>map(Result.Issued::new)
                .orElse(new Result.Refused());
    }
}
