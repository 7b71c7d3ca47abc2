package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * How an API's tokens are made.
 *
 * @param format jwt or opaque
 */
public record MintingView(
        String api,
        String lifetime,
        @OneOf({"jwt", "opaque"}) String format,
        List<Claim> claims,
        @JsonProperty("refresh_idle_timeout") String refreshIdleTimeout,
        @JsonProperty("max_refresh_age") String maxRefreshAge,
        @JsonProperty("exceptions") List<Exempt> exceptions,
        long version) {

    /** @param expression in CEL over client, api, scopes, grant_type, person and now */
    public record Claim(String name, String expression) {}

    /**
     * @param lifetime at most; null for the usual one
     * @param format null for the usual one
     * @param without claims that are left out
     */
    public record Exempt(
            @Nullable String name,
            @Nullable List<String> clients,
            @Nullable List<String> tags,
            @JsonProperty("grant_types") @Nullable List<String> grantTypes,
            @Nullable String lifetime,
            @OneOf({"jwt", "opaque"}) @Nullable String format,
            @JsonProperty("refresh_idle_timeout") @Nullable String refreshIdleTimeout,
            @JsonProperty("max_refresh_age") @Nullable String maxRefreshAge,
            @Nullable List<String> without) {}
}
