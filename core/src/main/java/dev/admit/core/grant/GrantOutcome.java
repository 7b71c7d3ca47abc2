package dev.admit.core.grant;

import dev.admit.core.audit.AuditLine;
import dev.admit.core.decision.Refusal;
import dev.admit.core.token.OpaqueToken;
import java.util.Optional;

/** What became of a token request. */
public sealed interface GrantOutcome {

    /**
     * @param lifetime in seconds
     * @param scope    as granted, space-separated: always said, RFC 6749 §5.1
     * @param token    what the audit keeps of it
     * @param kept     what an opaque one stands for
     * @param kid      the key it was signed with; empty for an opaque one
     */
    record Issued(String accessToken, long lifetime, String scope, AuditLine.Token token, String audience, Optional<OpaqueToken> kept, String kid) implements GrantOutcome {
        @Override public String toString() {
            return "Issued[hidden, scope=" + scope + "]";
        }
    }

    record Refused(Refusal refusal) implements GrantOutcome {}
}
