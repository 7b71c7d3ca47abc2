package dev.admit.core.configuration;

import dev.admit.core.key.SigningKeys;
import dev.admit.core.person.ProfileField;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.ApiSecret;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Role;
import dev.admit.core.registry.Scope;
import dev.admit.core.route.Route;
import dev.admit.core.trust.TrustedIssuer;
import dev.admit.core.upstream.UpstreamCredentials;
import java.util.List;

/** Everything configured, as it was kept at one moment. */
public record StoredConfiguration(
        List<Issuer> issuers,
        List<Api> apis,
        List<Scope> scopes,
        List<Route> routes,
        List<SigningKeys.Stored> keys,
        List<ApiSecret> apiSecrets,
        List<Role> roles,
        List<ProfileField> fields,
        List<TrustedIssuer> trusted,
        List<UpstreamCredentials.Stored> credentials,
        List<Registering> registering) {
    /**
     * Whether clients register themselves at an issuer.
     *
     * @param administratorApproves all that such a client requests, whatever people may approve of others
     */
    public record Registering(String issuerId, boolean open, boolean administratorApproves) {}

    /** Reads it all at one moment. */
    public interface Source {
        StoredConfiguration read();
    }
}
