package dev.admit.core.configuration;

import dev.admit.core.key.IssuerKeys;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Scope;
import dev.admit.core.minting.MintingInForce;
import dev.admit.core.registry.ApiSecret;
import dev.admit.core.token.TokenCheck;
import dev.admit.core.token.TokenSource;
import java.util.List;
import java.util.Map;

/**
 * One issuer with what token requests ask of it.
 *
 * @param url        the issuer identifier as tokens carry it
 * @param mintings   by the id of the API, as @param apiSecrets
 * @param everywhere what must hold of a verified token wherever it is shown, in order, beside its audience
 */
public record IssuerInForce(Issuer issuer, String url, IssuerKeys keys, Map<String, Api> apisById,
                            Map<String, Api> apisByAudience, Map<String, Scope> scopesByName, Map<String, MintingInForce> mintings,
                            Map<String, List<ApiSecret>> apiSecrets, List<TokenCheck> everywhere) {

    public TokenSource tokens() {
        return new TokenSource(issuer.id(), url, keys);
    }
}
