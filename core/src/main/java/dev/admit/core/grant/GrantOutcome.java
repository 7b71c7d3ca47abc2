package dev.admit.core.grant;

import dev.admit.core.audit.AuditLine;
import dev.admit.core.decision.Refusal;

/** What became of a token request. */
public sealed interface GrantOutcome {

    /**
     * @param lifetime in seconds
     * @param scope    as granted, space-separated: always said, RFC 6749 §5.1
     * @param token    what the audit keeps of it
     */
    record Issued(String accessToken, long lifetime, String scope, AuditLine.Token token, String audience) implements GrantOutcome {
        @Override public String toString() {
            return "Issued[hidden, scope=" + scope + "]";
        }
    }

    /** @param basicChallenge whether the answer must carry {@code WWW-Authenticate: Basic} (RFC 6749 §5.2) */
    record Refused(Refusal refusal, boolean basicChallenge) implements GrantOutcome {}
}
