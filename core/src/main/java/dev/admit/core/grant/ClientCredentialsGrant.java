package dev.admit.core.grant;

import dev.admit.core.decision.Decision;

/** A client on its own (RFC 6749 §4.4): {@code sub} is the client itself, and there is no refresh token. */
final class ClientCredentialsGrant implements Grant {
    static final String TYPE = "client_credentials";

    @Override
    public String type() {
        return TYPE;
    }

    @Override
    public Result redeem(Redemption asked, Decision.Builder decision) {
        return new ChooseScopes(asked.issuer(), asked.client(), asked.now(), decision)
                .choose(asked.form().one("scope"), asked.form().all("resource"))
                .map(entitled -> asked.trial()
                        .map(it -> it.limiting(entitled, asked.now()))
                        .orElse(entitled))
                .flatMap(entitled -> MintFor.client(
                        asked.client().client(), type(), entitled, asked.issuer(), asked.id(), asked.now(), decision))
                .<Result>map(Result.Issued::new)
                .orElse(new Result.Refused());
    }
}
