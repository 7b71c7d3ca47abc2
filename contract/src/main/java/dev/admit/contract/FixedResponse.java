package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import org.jspecify.annotations.Nullable;

/** The gateway's own answer. */
public record FixedResponse(
        @Nullable Integer status,
        @JsonProperty("content_type") @Nullable String contentType,
        @Nullable String body) {}
