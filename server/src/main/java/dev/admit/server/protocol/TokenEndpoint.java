package dev.admit.server.protocol;

import dev.admit.core.decision.Decision;
import dev.admit.core.decision.Refusal;
import dev.admit.core.grant.GrantOutcome;
import dev.admit.core.grant.IssueToken;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.util.LinkedHashMap;
import java.util.Map;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** The token endpoint (RFC 6749 §3.2): puts the request to {@link IssueToken} and its outcome on the wire. */
@RestController
class TokenEndpoint {
    private final Forms forms;
    private final IssueToken issueToken;

    TokenEndpoint(Forms forms, IssueToken issueToken) {
        this.forms = forms;
        this.issueToken = issueToken;
    }

    @RequestMapping("/{issuer}/token")
    void token(@PathVariable String issuer, HttpServletRequest request, HttpServletResponse response) throws IOException {
        forms.handle(issuer, request, response, (form, found, decision) -> answer(issueToken.issue(form, found, decision), decision));
    }

    private static Forms.Answer answer(GrantOutcome outcome, Decision.Builder decision) {
        return switch (outcome) {
            case GrantOutcome.Issued issued -> {
                Map<String, Object> body = new LinkedHashMap<>();
                body.put("access_token", issued.accessToken());
                body.put("token_type", "Bearer");
                body.put("expires_in", issued.lifetime());
                body.put("scope", issued.scope());
                yield Forms.Answer.of(body);
            }
            case GrantOutcome.Refused(Refusal refusal) -> Forms.Answer.refused(refusal, decision.id());
        };
    }
}
