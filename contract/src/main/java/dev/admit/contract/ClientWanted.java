package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.List;
import java.util.Map;

/**
 * A client as it is wanted; what is left out is as usual for its kind, or stays.
 *
 * @param kind service, web, browser, native or device
 * @param authMethod client_secret_basic, client_secret_post, private_key_jwt or none
 * @param jwks its public keys, for private_key_jwt; or @param jwksUri where they are
 * @param assertionAlg the algorithm its assertions must use
 * @param asks scope names, on registration only
 * @param clientId an id of the registrant's choice; on registration only, null for one that Admit makes
 * @param secretLifetime such as 90d, or never where the issuer allows it; on registration only
 */
public record ClientWanted(
        String name,
        String title,
        String description,
        String kind,
        @JsonProperty("auth_method") String authMethod,
        String owner,
        List<String> contacts,
        List<String> links,
        List<String> tags,
        @JsonProperty("redirect_uris") List<String> redirectUris,
        List<String> origins,
        @JsonProperty("grant_types") List<String> grantTypes,
        @JsonProperty("identity_scopes") List<String> identityScopes,
        Map<String, Object> jwks,
        @JsonProperty("jwks_uri") String jwksUri,
        @JsonProperty("assertion_alg") String assertionAlg,
        @JsonProperty("second_factor") Boolean secondFactor,
        @JsonProperty("id_token_alg") String idTokenAlg,
        @JsonProperty("after_sign_out") List<String> afterSignOut,
        @JsonProperty("may_introspect") Boolean mayIntrospect,
        List<String> asks,
        @JsonProperty("secret_lifetime") String secretLifetime,
        @JsonProperty("client_id") String clientId) {}
