package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.List;
import java.util.Map;

/**
 * What an API that checks tokens itself needs.
 *
 * @param algorithms of the keys that are published now
 * @param env the values as a .env file
 * @param code file name → a short working example that reads them
 * @param notes what it cannot see by itself
 */
public record CheckingView(
        String api,
        String issuer,
        @JsonProperty("jwks_uri") String jwksUri,
        String audience,
        List<String> algorithms,
        List<String> scopes,
        @JsonProperty("introspection_endpoint") String introspectionEndpoint,
        String env,
        Map<String, String> code,
        List<String> notes) {}
