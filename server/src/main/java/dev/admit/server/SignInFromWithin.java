package dev.admit.server;

import dev.admit.core.browser.SignInAtGate;
import dev.admit.core.clientauth.KnownClient;
import dev.admit.core.clientauth.KnownClients;
import dev.admit.core.configuration.CompiledIssuer;
import dev.admit.core.decision.Endpoint;
import dev.admit.core.decision.Journal;
import dev.admit.core.decision.Recorder;
import dev.admit.core.grant.FormParameters;
import dev.admit.core.grant.GrantOutcome;
import dev.admit.core.grant.IssueToken;
import dev.admit.core.issued.RevokeToken;
import java.time.Clock;
import java.util.Map;
import java.util.Optional;

/** The token endpoint for the gateway of the same process. What it decides is journaled as for anybody. */
final class SignInFromWithin implements SignInAtGate.Issuers {
    private final IssueToken issue;
    private final RevokeToken revoke;
    private final KnownClients clients;
    private final Journal journal;
    private final Clock clock;

    SignInFromWithin(IssueToken issue, RevokeToken revoke, KnownClients clients, Journal journal, Clock clock) {
        this.issue = issue;
        this.revoke = revoke;
        this.clients = clients;
        this.journal = journal;
        this.clock = clock;
    }

    @Override
    public Optional<SignInAtGate.Tokens> redeem(
            CompiledIssuer issuer, String clientId, Map<String, String> form, String from) {
        Recorder decision = decision(issuer, "token", from);
        Optional<KnownClient> client = clients.find(clientId);
        if (client.isEmpty()) return Optional.empty();
        return switch (issue.issueToGateway(FormParameters.of(form), client.get(), issuer, decision)) {
            case GrantOutcome.Issued issued -> {
                journal.write(decision, 200);
                yield Optional.of(new SignInAtGate.Tokens(
                        issued.accessToken(),
                        issued.lifetime(),
                        Optional.ofNullable(issued.beside().get("refresh_token"))));
            }
            case GrantOutcome.Refused refused -> {
                journal.write(decision, refused.refusal().reason().status());
                yield Optional.empty();
            }
        };
    }

    @Override
    public void end(
            CompiledIssuer issuer, String clientId, String accessToken, Optional<String> refreshToken, String from) {
        Recorder decision = decision(issuer, "revoke", from);
        clients.find(clientId).ifPresent(client -> {
            revoke.ofSignedOut(
                    issuer,
                    client.client(),
                    accessToken,
                    refreshToken,
                    decision.client(clientId, client.client().name()));
            journal.write(decision, 200);
        });
    }

    private Recorder decision(CompiledIssuer issuer, String endpoint, String from) {
        return new Recorder(Endpoint.TOKEN, clock.instant())
                .issuer(issuer.issuer().name())
                .request("POST", "/" + issuer.issuer().name() + "/" + endpoint, from);
    }
}
