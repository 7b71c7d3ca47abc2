package dev.admit.core.route;

import java.time.Duration;
import java.util.List;
import java.util.Optional;

/**
 * Who may pass a route, of those with a good token for its API and the scopes. What is empty requests nothing.
 *
 * @param issuers ids: this issuer and trusted ones, whose tokens pass; empty for this one alone
 * @param forWhom on whose behalf the token must be
 * @param clients ids; one of them
 * @param roles names; one of them must stand in the token's {@code roles} (RFC 9068 §2.2.3.1)
 * @param maxAge how long ago the person may have signed in (RFC 9470)
 * @param acr how they must have signed in (RFC 9470)
 * @param condition in CEL over claims, path parameters, method, headers and time
 * @param signIn id of the client as which the gateway signs browsers in that come without a token
 * @param subscription whether the client must be subscribed to a plan that covers the request
 */
public record Who(
        List<String> issuers,
        For forWhom,
        List<String> clients,
        List<String> roles,
        Optional<Duration> maxAge,
        Optional<String> acr,
        Optional<String> condition,
        Optional<String> signIn,
        boolean subscription) {
    public static final Who ANYONE = new Who(
            List.of(),
            For.ANYONE,
            List.of(),
            List.of(),
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            false);

    /** What was kept before there were some of these names none. */
    public Who {
        issuers = issuers == null ? List.of() : issuers;
        signIn = signIn == null ? Optional.empty() : signIn;
    }

    public enum For {
        ANYONE,
        PEOPLE,
        CLIENTS;

        @Override
        public String toString() {
            return name().toLowerCase(java.util.Locale.ROOT);
        }
    }
}
