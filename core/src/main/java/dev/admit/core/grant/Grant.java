package dev.admit.core.grant;

import dev.admit.core.clientauth.KnownClient;
import dev.admit.core.configuration.IssuerInForce;
import dev.admit.core.decision.Decision;
import dev.admit.core.token.TokenId;
import java.time.Instant;
import java.util.Optional;

/** One way of getting a token (RFC 6749 §1.3). Each is a class; {@link IssueToken} has the list. */
interface Grant {

    /** The value of {@code grant_type}. */
    String type();

    /**
     * @param id drawn before anything that the token leans on is read
     * @return the token, or empty when a check refused; the decision says which
     */
    Optional<GrantOutcome.Issued> redeem(FormParameters form, IssuerInForce issuer, KnownClient client, TokenId id, Instant now,
                                         Decision.Builder decision);
}
