package dev.admit.server.protocol;

import dev.admit.core.decision.Recorder;
import dev.admit.core.decision.Refusal;
import dev.admit.core.grant.GrantOutcome;
import dev.admit.core.grant.IssueToken;
import java.util.LinkedHashMap;
import java.util.Map;
import org.springframework.stereotype.Component;

/** The token endpoint (RFC 6749 §3.2): puts the request to {@link IssueToken} and its outcome on the wire. */
@Component
class TokenEndpoint implements FormAddresses.Endpoints {
    private final IssueToken issueToken;

    TokenEndpoint(IssueToken issueToken) {
        this.issueToken = issueToken;
    }

    @Override
    public Map<String, Forms.Deciding> byLastSegment() {
        return Map.of("token", (form, found, decision) -> answer(issueToken.issue(form, found, decision), decision));
    }

    private static Forms.Answer answer(GrantOutcome outcome, Recorder decision) {
        return switch (outcome) {
            case GrantOutcome.Issued issued -> {
                Map<String, Object> body = new LinkedHashMap<>();
                body.put("access_token", issued.accessToken());
                body.put("token_type", "Bearer");
                body.put("expires_in", issued.lifetime());
                body.put("scope", issued.scope());
                body.putAll(issued.beside());
                yield Forms.Answer.of(body);
            }
            case GrantOutcome.Refused(Refusal refusal) -> Forms.Answer.refused(refusal, decision.id());
        };
    }
}
