package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.List;

/** How an API's tokens are to be made; what is left out stays, lists come whole. */
public record MintingWanted(
        String lifetime,
        String format,
        List<MintingView.Claim> claims,
        @JsonProperty("refresh_idle") String refreshIdle,
        @JsonProperty("refresh_longest") String refreshLongest,
        List<MintingView.Exempt> exceptions) {}
