package dev.admit.server.admin;

import dev.admit.core.audit.Audit;
import dev.admit.core.change.Actor;
import dev.admit.core.clientauth.KnownClients;
import dev.admit.core.configuration.LiveConfiguration;
import dev.admit.core.decision.Decision;
import dev.admit.core.decision.Endpoint;
import dev.admit.core.decision.Journal;
import dev.admit.core.decision.Recorder;
import dev.admit.core.grant.FormParameters;
import dev.admit.core.grant.GrantOutcome;
import dev.admit.core.grant.IssueToken;
import dev.admit.core.grant.Trial;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.Issuer;
import java.time.Clock;
import java.util.Map;
import org.springframework.stereotype.Component;

/**
 * Has trial tokens made; each is decided on like any token request, and stands in the audit with the operator's name.
 */
@Component
public class TrialTokens {
    private final IssueToken issue;
    private final KnownClients clients;
    private final LiveConfiguration configuration;
    private final Journal journal;
    private final Audit audit;
    private final Clock clock;

    TrialTokens(
            IssueToken issue,
            KnownClients clients,
            LiveConfiguration configuration,
            Journal journal,
            Audit audit,
            Clock clock) {
        this.issue = issue;
        this.clients = clients;
        this.configuration = configuration;
        this.journal = journal;
        this.audit = audit;
        this.clock = clock;
    }

    public record Made(GrantOutcome outcome, Decision decision) {}

    /** @param form as {@link IssueToken#issueTrial} has it */
    public Made make(Issuer issuer, Client client, Map<String, String> form, Actor operator) {
        Recorder decision = new Recorder(Endpoint.TOKEN, clock.instant())
                .issuer(issuer.name())
                .request("POST", "/admin/issuers/%s/tokens/trial".formatted(issuer.name()), operator.from());
        GrantOutcome outcome = issue.issueTrial(
                new Trial(operator),
                FormParameters.of(form),
                clients.find(client.id()).orElseThrow(Lookup.absent("client", client.name())),
                configuration.get().issuer(issuer.name()).orElseThrow(Lookup.absent("issuer", issuer.name())),
                decision);
        int status =
                switch (outcome) {
                    case GrantOutcome.Issued issued -> {
                        audit.added(
                                operator,
                                issuer.id(),
                                "token.trial",
                                client.name(),
                                Map.of(
                                        "scope",
                                        issued.scope(),
                                        "audience",
                                        issued.audience(),
                                        "token",
                                        issued.token().id()));
                        yield 200;
                    }
                    case GrantOutcome.Refused refused ->
                        refused.refusal().reason().status();
                };
        journal.write(decision, status);
        return new Made(outcome, decision.answered(status));
    }
}
