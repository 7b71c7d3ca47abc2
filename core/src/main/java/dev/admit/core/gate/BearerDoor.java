package dev.admit.core.gate;

import dev.admit.core.configuration.IssuerInForce;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Decision;
import dev.admit.core.token.BearerCredentials;
import dev.admit.core.token.RememberedTokens;
import dev.admit.core.token.TokenCheck;
import dev.admit.core.token.VerifiedToken;
import java.util.List;
import java.util.Optional;

/**
 * Lets a bearer token in, or not: found in the request, its signature good, then each check in order. The gateway's
 * routes and the admin API stand behind the same door.
 */
public final class BearerDoor {
    private final RememberedTokens tokens;

    public BearerDoor(RememberedTokens tokens) {
        this.tokens = tokens;
    }

    /**
     * @param authorization every Authorization header
     * @param query         the raw query, or null
     * @param issuer        whose tokens are wanted
     * @return the token, or empty when a check refused; the decision says which
     */
    public Optional<VerifiedToken> pass(List<String> authorization, String query, IssuerInForce issuer, List<TokenCheck> checks,
                                        Decision.Builder decision) {
        Optional<String> bearer = BearerCredentials.read(authorization, query, decision);
        if (bearer.isEmpty()) return Optional.empty();
        Optional<VerifiedToken> verified = tokens.verify(bearer.get(), issuer.tokens(), decision);
        if (verified.isEmpty()) return verified;
        VerifiedToken token = verified.get();
        decision.client(token.clientId(), "").subject(token.subject()).scopes(token.scopeText());
        for (TokenCheck check : checks) {
            if (decision.add(check.on(token, decision.at())) instanceof CheckResult.Refused) return Optional.empty();
        }
        return verified;
    }
}
