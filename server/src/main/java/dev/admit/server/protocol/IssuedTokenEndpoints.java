package dev.admit.server.protocol;

import dev.admit.core.decision.Refusal;
import dev.admit.core.issued.IntrospectToken;
import dev.admit.core.issued.RevokeToken;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.util.Map;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** What can be asked of tokens that were issued, and done to them: introspection (RFC 7662) and revocation (RFC 7009). */
@RestController
class IssuedTokenEndpoints {
    private final Forms forms;
    private final IntrospectToken introspect;
    private final RevokeToken revoke;

    IssuedTokenEndpoints(Forms forms, IntrospectToken introspect, RevokeToken revoke) {
        this.forms = forms;
        this.introspect = introspect;
        this.revoke = revoke;
    }

    @RequestMapping("/{issuer}/introspect")
    void introspect(@PathVariable String issuer, HttpServletRequest request, HttpServletResponse response) throws IOException {
        forms.handle(issuer, request, response, (form, found, decision) -> switch (introspect.introspect(form, found, decision)) {
            case IntrospectToken.Outcome.Told(Map<String, Object> members) -> Forms.Answer.of(members);
            case IntrospectToken.Outcome.Refused(Refusal refusal) -> Forms.Answer.refused(refusal, decision.id());
        });
    }

    @RequestMapping("/{issuer}/revoke")
    void revoke(@PathVariable String issuer, HttpServletRequest request, HttpServletResponse response) throws IOException {
        forms.handle(issuer, request, response, (form, found, decision) -> switch (revoke.revoke(form, found, decision)) {
            case RevokeToken.Outcome.Done done -> Forms.Answer.of(Map.of());
            case RevokeToken.Outcome.Refused(Refusal refusal) -> Forms.Answer.refused(refusal, decision.id());
        });
    }
}
