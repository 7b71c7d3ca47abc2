package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.List;

/** How an API's tokens are to be made; what is left out stays, lists come whole. */
public record MintingWanted(
        String lifetime,
        String format,
        List<MintingView.Claim> claims,
        @JsonProperty("refresh_idle_timeout") String refreshIdleTimeout,
        @JsonProperty("max_refresh_age") String maxRefreshAge,
        List<MintingView.Exempt> exceptions) {}
