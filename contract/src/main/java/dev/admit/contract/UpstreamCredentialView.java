package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * What the gateway presents to an upstream, without its secret.
 *
 * @param form header, login or token
 * @param routes that present it
 */
public record UpstreamCredentialView(
        String id,
        String name,
        String upstream,
        @OneOf({"header", "login", "token"}) String form,
        @Nullable String header,
        @Nullable String user,
        @JsonProperty("client_id") @Nullable String clientId,
        @Nullable String issuer,
        @JsonProperty("token_endpoint") @Nullable String tokenEndpoint,
        @OneOf({"header", "body"}) @Nullable String auth,
        @Nullable String scope,
        @Nullable Map<String, String> parameters,
        List<String> routes,
        long version,
        @JsonProperty("created_at") Instant createdAt) {}
