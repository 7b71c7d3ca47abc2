package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.List;

/** How an API's tokens are made. @param format jwt or opaque */
public record MintingView(
        String api,
        String lifetime,
        String format,
        List<Claim> claims,
        @JsonProperty("refresh_idle_timeout") String refreshIdleTimeout,
        @JsonProperty("max_refresh_age") String maxRefreshAge,
        @JsonProperty("exceptions") List<Exempt> exceptions,
        long version) {

    /** @param expression in CEL over client, api, scopes, grant_type, person and now */
    public record Claim(String name, String expression) {}

    /** @param lifetime at most; may be null, as @param format, @param without claims that are left out */
    public record Exempt(
            String name,
            List<String> clients,
            List<String> tags,
            @JsonProperty("grant_types") List<String> grantTypes,
            String lifetime,
            String format,
            @JsonProperty("refresh_idle_timeout") String refreshIdleTimeout,
            @JsonProperty("max_refresh_age") String maxRefreshAge,
            List<String> without) {}
}
