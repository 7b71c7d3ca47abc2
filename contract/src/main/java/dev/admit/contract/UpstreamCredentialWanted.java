package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * An upstream credential as it is wanted; null leaves a member as it is.
 *
 * @param upstream the only address that it goes to, with all below
 * @param header the header that a fixed value goes into; of this, user and client_id one is said
 * @param user of a login
 * @param clientId as which a token is fetched
 * @param secret the header's value, the password, or the client's secret
 * @param issuer whose metadata names the token endpoint; or token_endpoint by hand
 * @param auth header (as usual) or body: where id and secret go
 * @param scope the scope that is requested, space-separated
 * @param parameters more of the request for a token, such as audience
 */
public record UpstreamCredentialWanted(
        @Nullable String name,
        @Nullable String upstream,
        @Nullable String header,
        @Nullable String user,
        @JsonProperty("client_id") @Nullable String clientId,
        @Nullable String secret,
        @Nullable String issuer,
        @JsonProperty("token_endpoint") @Nullable String tokenEndpoint,
        @OneOf({"header", "body"}) @Nullable String auth,
        @Nullable String scope,
        @Nullable Map<String, String> parameters) {
    @Override
    public String toString() {
        return "UpstreamCredentialWanted[" + name + ", hidden]";
    }

    /** The same with these parameters. */
    public UpstreamCredentialWanted with(@Nullable Map<String, String> parameters) {
        return new UpstreamCredentialWanted(
                name, upstream, header, user, clientId, secret, issuer, tokenEndpoint, auth, scope, parameters);
    }
}
