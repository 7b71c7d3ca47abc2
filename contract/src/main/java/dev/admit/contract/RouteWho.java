package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.List;

/**
 * Who may pass a route, of those with a good token and the scopes; what is null or empty asks for nothing.
 *
 * @param issuers names of this issuer and of trusted ones, whose tokens pass; this one alone when null
 * @param bearer people or clients; anyone when null
 * @param clients names
 * @param roles one of them must stand in the token
 * @param signedInWithin such as 10m
 * @param strength an acr value
 * @param signIn the client as which the gateway signs browsers in that come without a token
 * @param when a condition in CEL over claims, path, method, headers and now
 */
public record RouteWho(
        List<String> issuers,
        String bearer,
        List<String> clients,
        List<String> roles,
        @JsonProperty("signed_in_within") String signedInWithin,
        String strength,
        String when,
        @JsonProperty("sign_in") String signIn) {}
