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
 * @param maxAge how long ago the person may have signed in, such as 10m (RFC 9470)
 * @param acr how the person must have signed in (RFC 9470)
 * @param signIn the client as which the gateway signs browsers in that come without a token
 * @param condition in CEL over claims, path, method, headers and now
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
        @JsonProperty("sign_in") @Nullable String signIn) {}
