package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;

/** The gateway's own answer. */
public record FixedResponse(
        Integer status, @JsonProperty("content_type") String contentType, String body) {}
