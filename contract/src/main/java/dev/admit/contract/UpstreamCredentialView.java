package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.time.Instant;
import java.util.List;
import java.util.Map;

/**
 * What the gateway presents to an upstream, without its secret. @param form header, login or token, @param routes that
 * present it
 */
public record UpstreamCredentialView(
        String id,
        String name,
        String upstream,
        String form,
        String header,
        String user,
        @JsonProperty("client_id") String clientId,
        String issuer,
        @JsonProperty("token_endpoint") String tokenEndpoint,
        String auth,
        String scope,
        Map<String, String> parameters,
        List<String> routes,
        long version,
        @JsonProperty("created_at") Instant createdAt) {}
