package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * A trusted issuer as it is wanted; null leaves a member as it is.
 *
 * @param url its issuer identifier, exactly as its tokens carry it
 * @param metadata where its metadata is; of this, jwks_uri and jwks one is said, or none for the usual place below its
 *     url
 * @param jwks a JWK Set as text
 * @param algorithms one that its signatures may have
 * @param types the typ of its access tokens, such as at+jwt; none for tokens without
 * @param audience that its tokens must be for; empty for the audience of the API behind the route
 * @param scopeClaim the name of a claim, or a JSON Pointer to one, as the next three
 * @param rolesClaim where roles stand
 * @param personClaim whom a token acts for; where it is missing, or equals the client, a client acts on its own
 * @param clientClaim where the client stands
 * @param scopes its name for a scope → ours; where some are said no other counts
 * @param clients its id for a client → the name of the client here that it is
 */
public record TrustedIssuerWanted(
        @Nullable String name,
        @Nullable String url,
        @Nullable String metadata,
        @JsonProperty("jwks_uri") @Nullable String jwksUri,
        @Nullable String jwks,
        @Nullable List<String> algorithms,
        @Nullable List<String> types,
        @Nullable String audience,
        @JsonProperty("scope_claim") @Nullable String scopeClaim,
        @JsonProperty("roles_claim") @Nullable String rolesClaim,
        @JsonProperty("person_claim") @Nullable String personClaim,
        @JsonProperty("client_claim") @Nullable String clientClaim,
        @Nullable Map<String, String> scopes,
        @Nullable Map<String, String> clients) {
    /** The same with these pairs. */
    public TrustedIssuerWanted with(@Nullable Map<String, String> scopes, @Nullable Map<String, String> clients) {
        return new TrustedIssuerWanted(
                name,
                url,
                metadata,
                jwksUri,
                jwks,
                algorithms,
                types,
                audience,
                scopeClaim,
                rolesClaim,
                personClaim,
                clientClaim,
                scopes,
                clients);
    }
}
