package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * An API.
 *
 * @param defaultScopes what a request gets that names no scope
 * @param allByDefault whether a request that names no scope gets every scope that the client is approved for
 * @param upstream null when its routes name their own
 * @param owners the addresses of those who answer for it
 * @param sentences what is in force at it, in words
 * @param openapi the OpenAPI document that it has; null for none
 * @param secrets with which it asks at the introspection endpoint
 */
public record ApiView(
        String id,
        String name,
        String title,
        String audience,
        @Nullable String upstream,
        List<String> owners,
        List<SecretView> secrets,
        @JsonProperty("default_scopes") List<String> defaultScopes,
        @JsonProperty("all_by_default") boolean allByDefault,
        List<String> sentences,
        @Nullable OpenApiSummary openapi,
        long version,
        @JsonProperty("created_at") Instant createdAt) {}
