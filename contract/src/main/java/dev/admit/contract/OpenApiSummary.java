package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.time.Instant;

/**
 * The OpenAPI document of an API, in short.
 *
 * @param version as the document says; empty where it says none
 * @param operations how many it has
 */
public record OpenApiSummary(
        String title,
        String version,
        int operations,
        @JsonProperty("imported_at") Instant importedAt) {}
