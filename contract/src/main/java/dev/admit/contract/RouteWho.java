package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * Who may pass a route, of those with a good token and the scopes; what is null or empty requests nothing.
 *
 * @param issuers names of this issuer and of trusted ones, whose tokens pass; this one alone when null
 * @param forWhom people, clients or anyone; anyone when null
 * @param clients names
 * @param roles one of them must stand in the token
 * @param maxAge only people who signed in at most so long ago pass, such as 10m (RFC 9470)
 * @param acr only people who signed in with this acr pass, such as urn:admit:acr:2 (RFC 9470)
 * @param condition a condition in CEL over claims, path, method, headers and now
 * @param signIn the client as which the gateway signs browsers in that come without a token
 * @param subscription true lets only clients pass that are subscribed to a plan that covers the request
 */
public record RouteWho(
        @Nullable List<String> issuers,

        @OneOf({"people", "clients", "anyone"}) @JsonProperty("for") @Nullable
        String forWhom,

        @Nullable List<String> clients,
        @Nullable List<String> roles,
        @JsonProperty("max_age") @Nullable String maxAge,
        @Nullable String acr,
        @Nullable String condition,
        @JsonProperty("sign_in") @Nullable String signIn,
        @Nullable Boolean subscription) {}
