package dev.admit.core.grant;

import dev.admit.core.access.AdminApi;
import dev.admit.core.change.Actor;
import dev.admit.core.clientauth.KnownClient;
import dev.admit.core.configuration.CompiledIssuer;
import java.time.Duration;
import java.time.Instant;
import java.util.Map;

/**
 * What makes a token a trial token: an operator has it made to call as a client without the client's credential. It
 * lives two minutes at most, and says in {@code act} (RFC 8693 §4.1) who stands behind it.
 *
 * @param operator the one who has it made
 */
public record Trial(Actor operator) {
    /** At most; an approval or scope that ends sooner makes it shorter. */
    public static final Duration LIFETIME = Duration.ofMinutes(2);
    /** The claim by which a trial token is known. */
    public static final String ACT = "act";

    /**
     * The one who calls as a client that can run Admit has its rights: that is for administrators, who have them
     * anyway.
     */
    boolean mayBeOf(KnownClient client, CompiledIssuer issuer) {
        boolean runsAdmit = client.client().openidScopes().contains(AdminApi.RUN)
                || client.approvals().stream()
                        .map(it -> issuer.scopesByName().get(it.scopeName()))
                        .anyMatch(scope -> scope != null
                                && scope.apiId().equals(issuer.admin().id()));
        return !runsAdmit || operator.isAdministrator();
    }

    GrantedScopes limiting(GrantedScopes entitled, Instant now) {
        Instant until = now.plus(LIFETIME);
        return new GrantedScopes(
                entitled.api(),
                entitled.scopeNames(),
                entitled.until().isBefore(until) ? entitled.until() : until,
                marks());
    }

    private Map<String, Object> marks() {
        return Map.of(ACT, Map.of("sub", operator.id(), "name", operator.name(), "trial", true));
    }
}
