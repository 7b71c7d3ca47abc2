package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;

/**
 * What a service says of itself.
 *
 * @param gateway the address its gateway is called at
 */
public record ServiceView(
        String version, @JsonProperty("public_url") String publicUrl, String gateway) {}
