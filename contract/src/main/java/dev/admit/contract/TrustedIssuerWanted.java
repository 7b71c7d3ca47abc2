package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.List;
import java.util.Map;

/**
 * A trusted issuer as it is wanted; null leaves a member as it is.
 *
 * @param url its issuer identifier, exactly as its tokens carry it
 * @param metadata where its metadata is; of this, jwks_uri and jwks one is said, or none for the usual place below its
 *     url
 * @param jwks a JWK Set as text
 * @param types the typ of its access tokens, such as at+jwt; none for tokens without
 * @param audience that its tokens must be for; empty for the audience of the API behind the route
 * @param scopeClaim the name of a claim, or a JSON Pointer to one, as the next three
 * @param personClaim whom a token acts for; where it is missing, or equals the client, a client acts on its own
 * @param scopes its name for a scope → ours; where some are said no other counts
 * @param clients its id for a client → the name of the client here that it is
 */
public record TrustedIssuerWanted(
        String name,
        String url,
        String metadata,
        @JsonProperty("jwks_uri") String jwksUri,
        String jwks,
        List<String> algorithms,
        List<String> types,
        String audience,
        @JsonProperty("scope_claim") String scopeClaim,
        @JsonProperty("roles_claim") String rolesClaim,
        @JsonProperty("person_claim") String personClaim,
        @JsonProperty("client_claim") String clientClaim,
        Map<String, String> scopes,
        Map<String, String> clients) {}
