package dev.admit.server.protocol;

import dev.admit.core.decision.Refusal;
import dev.admit.core.issued.IntrospectToken;
import dev.admit.core.issued.RevokeToken;
import java.util.Map;
import org.springframework.stereotype.Component;

/**
 * What can be asked of tokens that were issued, and done to them: introspection (RFC 7662) and revocation (RFC 7009).
 */
@Component
class IssuedTokenEndpoints implements FormAddresses.Endpoints {
    private final IntrospectToken introspect;
    private final RevokeToken revoke;

    IssuedTokenEndpoints(IntrospectToken introspect, RevokeToken revoke) {
        this.introspect = introspect;
        this.revoke = revoke;
    }

    @Override
    public Map<String, Forms.Deciding> byLastSegment() {
        return Map.of(
                "introspect",
                (form, found, decision) -> switch (introspect.introspect(form, found, decision)) {
                    case IntrospectToken.Outcome.Told(Map<String, Object> members) -> Forms.Answer.of(members);
                    case IntrospectToken.Outcome.Refused(Refusal refusal) ->
                        Forms.Answer.refused(refusal, decision.id());
                },
                "revoke",
                (form, found, decision) -> switch (revoke.revoke(form, found, decision)) {
                    case RevokeToken.Outcome.Done done -> Forms.Answer.of(Map.of());
                    case RevokeToken.Outcome.Refused(Refusal refusal) -> Forms.Answer.refused(refusal, decision.id());
                });
    }
}
