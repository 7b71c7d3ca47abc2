package dev.admit.core.grant;

import dev.admit.core.audit.AuditLine;
import dev.admit.core.decision.Refusal;
import dev.admit.core.token.MintAccessToken;
import dev.admit.core.token.OpaqueToken;
import java.util.Map;
import java.util.Optional;

/** What became of a token request. */
public sealed interface GrantOutcome {

    /**
     * @param lifetime in seconds
     * @param scope as granted, space-separated: always said, RFC 6749 §5.1
     * @param token what the audit keeps of it
     * @param kept what an opaque one stands for
     * @param kid the key it was signed with; empty for an opaque one
     * @param subject whom it acts for; the client itself where it acts for nobody
     * @param onBehalf by which sign-in, where it acts for a person
     * @param beside what else the answer holds, by its name on the wire: a refresh token, an ID token
     */
    record Issued(
            String accessToken,
            long lifetime,
            String scope,
            AuditLine.Token token,
            String audience,
            Optional<OpaqueToken> kept,
            String kid,
            String subject,
            Optional<MintAccessToken.OnBehalf> onBehalf,
            Map<String, String> beside)
            implements GrantOutcome {

        Issued beside(Map<String, String> more) {
            return new Issued(accessToken, lifetime, scope, token, audience, kept, kid, subject, onBehalf, more);
        }

        @Override
        public String toString() {
            return "Issued[hidden, scope=" + scope + "]";
        }
    }

    record Refused(Refusal refusal) implements GrantOutcome {}
}
