package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.time.Instant;

/** An API. @param upstream null when its routes name their own */
public record ApiView(String id, String name, String title, String audience, String upstream, long version,
        @JsonProperty("created_at") Instant createdAt) {}
