package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.time.Instant;

/** An issuer. @param url the issuer identifier, @param revision of its routes, @param version the ETag */
public record IssuerView(String id, String name, String title, String url, long revision, long version,
        @JsonProperty("created_at") Instant createdAt) {}
