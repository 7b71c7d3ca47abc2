package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.List;
import java.util.Map;

/**
 * A client as it is wanted; what is left out is as usual for its kind, or stays.
 *
 * @param kind machine, web, browser, native or device
 * @param tokenEndpointAuthMethod client_secret_basic, client_secret_post, private_key_jwt or none
 * @param jwks its public keys, for private_key_jwt; or @param jwksUri where they are
 * @param tokenEndpointAuthSigningAlg the algorithm its assertions must use
 * @param scopes scope names, on registration only
 * @param clientId an id of the registrant's choice; on registration only, null for one that Admit makes
 * @param secretLifetime such as 90d, or never where the issuer allows it; on registration only
 */
public record ClientWanted(
        String name,
        @JsonProperty("client_name") String clientName,
        String description,
        String kind,
        @JsonProperty("token_endpoint_auth_method") String tokenEndpointAuthMethod,
        List<String> contacts,
        List<String> links,
        List<String> tags,
        @JsonProperty("redirect_uris") List<String> redirectUris,
        List<String> origins,
        @JsonProperty("grant_types") List<String> grantTypes,
        @JsonProperty("openid_scopes") List<String> openidScopes,
        Map<String, Object> jwks,
        @JsonProperty("jwks_uri") String jwksUri,
        @JsonProperty("token_endpoint_auth_signing_alg") String tokenEndpointAuthSigningAlg,
        @JsonProperty("second_factor") Boolean secondFactor,
        @JsonProperty("id_token_signed_response_alg") String idTokenSignedResponseAlg,
        @JsonProperty("post_logout_redirect_uris") List<String> postLogoutRedirectUris,
        @JsonProperty("may_introspect") Boolean mayIntrospect,
        List<String> scopes,
        @JsonProperty("secret_lifetime") String secretLifetime,
        @JsonProperty("client_id") String clientId) {}
