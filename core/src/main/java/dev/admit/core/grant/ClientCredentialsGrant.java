package dev.admit.core.grant;

import dev.admit.core.decision.Recorder;

/** A client on its own (RFC 6749 §4.4): {@code sub} is the client itself, and there is no refresh token. */
final class ClientCredentialsGrant implements Grant {
    static final String TYPE = "client_credentials";

    @Override
    public String type() {
        return TYPE;
    }

    @Override
    public Result redeem(Redemption asked, Recorder decision) {
        ChooseScopes choose = new ChooseScopes(asked.issuer(), asked.client(), asked.now());
        ChooseScopes.Resource resource =
                decision.take(choose.resource(asked.form().all("resource")));
        if (resource == null) return new Result.Refused();
        resource.named().ifPresent(api -> decision.api(api.name()));
        ChooseScopes.Chosen chosen = decision.take(choose.scopes(asked.form().one("scope"), resource));
        if (chosen == null) return new Result.Refused();
        decision.api(chosen.api().name());
        GrantedScopes approved = decision.take(choose.approved(chosen));
        if (approved == null) return new Result.Refused();
        decision.scopes(approved.text());
        GrantOutcome.Issued issued = decision.take(MintFor.client(asked, type(), asked.limited(approved)));
        return issued == null ? new Result.Refused() : new Result.Issued(issued);
    }
}
