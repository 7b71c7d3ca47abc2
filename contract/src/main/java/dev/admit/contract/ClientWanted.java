package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * A client as it is wanted; what is left out is as usual for its kind, or stays.
 *
 * @param clientName the name that people read
 * @param description what it is for
 * @param kind machine, web, browser, native or device: who runs it
 * @param tokenEndpointAuthMethod client_secret_basic, client_secret_post, private_key_jwt or none
 * @param contacts who answers for it: a name, an address or a number
 * @param links a page about it
 * @param redirectUris where people come back to
 * @param origins of a page that calls from a browser
 * @param grantTypes a grant type it may use
 * @param openidScopes what it may ask a person for, such as openid
 * @param jwks its public keys, for private_key_jwt
 * @param jwksUri where they are
 * @param tokenEndpointAuthSigningAlg the algorithm its assertions must use
 * @param secondFactor whether a person needs a second factor for it
 * @param idTokenSignedResponseAlg what its ID tokens are signed with. Default: RS256
 * @param postLogoutRedirectUris where it may have people sent after they signed out
 * @param mayIntrospect whether it may introspect every token of the issuer, as a gateway elsewhere does. For
 *     administrators to allow
 * @param scopes scope names, on registration only
 * @param secretLifetime such as 90d, or never where the issuer allows it; on registration only
 * @param clientId an id of the registrant's choice; on registration only, null for one that Admit makes
 */
public record ClientWanted(
        @Nullable String name,
        @JsonProperty("client_name") @Nullable String clientName,
        @Nullable String description,

        @OneOf({"machine", "web", "browser", "native", "device"}) @Nullable
        String kind,

        @OneOf({"client_secret_basic", "client_secret_post", "private_key_jwt", "none"})
        @JsonProperty("token_endpoint_auth_method")
        @Nullable
        String tokenEndpointAuthMethod,

        @Nullable List<String> contacts,
        @Nullable List<String> links,
        @Nullable List<String> tags,
        @JsonProperty("redirect_uris") @Nullable List<String> redirectUris,
        @Nullable List<String> origins,
        @JsonProperty("grant_types") @Nullable List<String> grantTypes,
        @JsonProperty("openid_scopes") @Nullable List<String> openidScopes,
        @Nullable Map<String, Object> jwks,
        @JsonProperty("jwks_uri") @Nullable String jwksUri,

        @OneOf({"ES256", "RS256", "PS256", "EdDSA"}) @JsonProperty("token_endpoint_auth_signing_alg") @Nullable
        String tokenEndpointAuthSigningAlg,

        @JsonProperty("second_factor") @Nullable Boolean secondFactor,

        @OneOf({"ES256", "RS256", "PS256", "EdDSA"}) @JsonProperty("id_token_signed_response_alg") @Nullable
        String idTokenSignedResponseAlg,

        @JsonProperty("post_logout_redirect_uris") @Nullable List<String> postLogoutRedirectUris,
        @JsonProperty("may_introspect") @Nullable Boolean mayIntrospect,
        @Nullable List<String> scopes,
        @JsonProperty("secret_lifetime") @Nullable String secretLifetime,
        @JsonProperty("client_id") @Nullable String clientId) {
    /** With an id that Admit chooses, and a first secret that lives as usual. */
    public ClientWanted(
            @Nullable String name,
            @Nullable String clientName,
            @Nullable String description,
            @Nullable String kind,
            @Nullable String tokenEndpointAuthMethod,
            @Nullable List<String> contacts,
            @Nullable List<String> links,
            @Nullable List<String> tags,
            @Nullable List<String> redirectUris,
            @Nullable List<String> origins,
            @Nullable List<String> grantTypes,
            @Nullable List<String> openidScopes,
            @Nullable Map<String, Object> jwks,
            @Nullable String jwksUri,
            @Nullable String tokenEndpointAuthSigningAlg,
            @Nullable Boolean secondFactor,
            @Nullable String idTokenSignedResponseAlg,
            @Nullable List<String> postLogoutRedirectUris,
            @Nullable Boolean mayIntrospect,
            @Nullable List<String> scopes) {
        this(
                name,
                clientName,
                description,
                kind,
                tokenEndpointAuthMethod,
                contacts,
                links,
                tags,
                redirectUris,
                origins,
                grantTypes,
                openidScopes,
                jwks,
                jwksUri,
                tokenEndpointAuthSigningAlg,
                secondFactor,
                idTokenSignedResponseAlg,
                postLogoutRedirectUris,
                mayIntrospect,
                scopes,
                null,
                null);
    }

    /** A machine, the simplest of clients. */
    public static ClientWanted machine(String name, @Nullable String clientName, List<String> scopes) {
        return new ClientWanted(
                name,
                clientName,
                null,
                null,
                null,
                null,
                null,
                null,
                null,
                null,
                null,
                null,
                null,
                null,
                null,
                null,
                null,
                null,
                null,
                scopes);
    }
}
