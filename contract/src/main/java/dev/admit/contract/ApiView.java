package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.time.Instant;
import java.util.List;

/** An API. @param upstream null when its routes name their own, @param owners the addresses of those who answer for it, @param secrets with which it asks at the introspection endpoint */
public record ApiView(String id, String name, String title, String audience, String upstream, List<String> owners, List<SecretView> secrets, long version,
        @JsonProperty("created_at") Instant createdAt) {}
