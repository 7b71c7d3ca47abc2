package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.time.Instant;
import java.util.List;

/**
 * A client. @param missing what it still lacks to work, as sentences; empty when nothing
 */
public record ClientView(@JsonProperty("client_id") String clientId, String name, String title, String kind,
        @JsonProperty("auth_method") String authMethod, String owner, boolean enabled, String issuer,
        @JsonProperty("token_endpoint") String tokenEndpoint, List<SecretView> secrets, List<ApprovalView> asks,
        List<String> missing, long version, @JsonProperty("created_at") Instant createdAt) {}
