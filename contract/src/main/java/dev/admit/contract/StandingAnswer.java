package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;

/** The gateway's own answer. */
public record StandingAnswer(
        Integer status, @JsonProperty("content_type") String contentType, String body) {}
