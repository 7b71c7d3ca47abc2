package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * A client.
 *
 * @param owners the addresses of the people who do, and so may change it
 * @param grantTypes that it may use
 * @param openidScopes which of the issuer's own scopes it may ask a person for
 * @param jwks its public keys, where they were given; else null, as jwks_uri
 * @param openidGranted whether an administrator approved those for everyone
 * @param secondFactor whether a person needs one for it
 * @param mayIntrospect whether it may introspect every token of the issuer, and not its own alone
 * @param idTokenSignedResponseAlg what its ID tokens are signed with; null for RS256
 * @param postLogoutRedirectUris where it may have people sent after they signed out
 * @param selfRegistration how it registered itself; null for a client that a person registered
 * @param may what it may do, as sentences
 * @param missing what it still lacks to work, as sentences; empty when nothing
 * @param remarks what is worth a second look
 */
public record ClientView(
        @JsonProperty("client_id") String clientId,
        String name,
        @JsonProperty("client_name") String clientName,
        String description,

        @OneOf({"machine", "web", "browser", "native", "device"})
        String kind,

        @OneOf({"client_secret_basic", "client_secret_post", "private_key_jwt", "none"})
        @JsonProperty("token_endpoint_auth_method")
        String tokenEndpointAuthMethod,

        List<String> owners,
        List<String> contacts,
        List<String> links,
        List<String> tags,
        @JsonProperty("redirect_uris") List<String> redirectUris,
        List<String> origins,
        @JsonProperty("grant_types") List<String> grantTypes,
        @JsonProperty("openid_scopes") List<String> openidScopes,
        @Nullable Map<String, Object> jwks,
        @JsonProperty("jwks_uri") @Nullable String jwksUri,

        @OneOf({"ES256", "RS256", "PS256", "EdDSA"}) @JsonProperty("token_endpoint_auth_signing_alg") @Nullable
        String tokenEndpointAuthSigningAlg,

        @JsonProperty("openid_granted") boolean openidGranted,
        @JsonProperty("second_factor") boolean secondFactor,

        @OneOf({"ES256", "RS256", "PS256", "EdDSA"}) @JsonProperty("id_token_signed_response_alg") @Nullable
        String idTokenSignedResponseAlg,

        @JsonProperty("post_logout_redirect_uris") List<String> postLogoutRedirectUris,
        @JsonProperty("may_introspect") boolean mayIntrospect,
        boolean enabled,
        String issuer,
        @JsonProperty("token_endpoint") String tokenEndpoint,
        List<SecretView> secrets,
        List<ApprovalView> scopes,
        @JsonProperty("self_registration") @Nullable SelfRegistrationView selfRegistration,
        List<String> may,
        List<String> missing,
        List<String> remarks,
        long version,
        @JsonProperty("created_at") Instant createdAt) {}
