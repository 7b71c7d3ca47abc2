package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * How an API's tokens are to be made; what is left out stays, lists come whole.
 *
 * @param lifetime how long its tokens live, such as 15m
 * @param format jwt or opaque
 * @param refreshIdleTimeout a refresh token expires when it is not used for so long, such as 14d
 * @param maxRefreshAge how long after a sign-in tokens can be refreshed, such as 90d
 */
public record MintingWanted(
        @Nullable String lifetime,
        @OneOf({"jwt", "opaque"}) @Nullable String format,
        @Nullable List<MintingView.Claim> claims,
        @JsonProperty("refresh_idle_timeout") @Nullable String refreshIdleTimeout,
        @JsonProperty("max_refresh_age") @Nullable String maxRefreshAge,
        @Nullable List<MintingView.Exempt> exceptions) {}
