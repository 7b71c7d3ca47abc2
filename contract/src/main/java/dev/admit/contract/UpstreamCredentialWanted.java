package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.Map;

/**
 * An upstream credential as it is wanted; null leaves a member as it is.
 *
 * @param upstream the only address that it goes to, with all below
 * @param header the header that a fixed value goes into; of this, user and client_id one is said
 * @param user of a login
 * @param clientId as which a token is fetched
 * @param secret the header's value, the password, or the client's secret
 * @param issuer whose metadata names the token endpoint; or token_endpoint by hand
 * @param auth header or body: where id and secret go
 * @param parameters more of the request for a token
 */
public record UpstreamCredentialWanted(
        String name,
        String upstream,
        String header,
        String user,
        @JsonProperty("client_id") String clientId,
        String secret,
        String issuer,
        @JsonProperty("token_endpoint") String tokenEndpoint,
        String auth,
        String scope,
        Map<String, String> parameters) {
    @Override
    public String toString() {
        return "UpstreamCredentialWanted[" + name + ", hidden]";
    }
}
