package dev.admit.contract;

import java.util.List;

/** How an API's tokens are to be made; what is left out stays, lists come whole. */
public record MintingWanted(String lifetime, String format, List<MintingView.Claim> claims, List<MintingView.Exempt> exceptions) {}
