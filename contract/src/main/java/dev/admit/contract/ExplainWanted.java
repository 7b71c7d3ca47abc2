package dev.admit.contract;

import org.jspecify.annotations.Nullable;

/**
 * A request that was never sent.
 *
 * @param host that it would be for; null for any that no route names
 * @param token that it would carry; null for none
 */
public record ExplainWanted(
        @Nullable String method,
        @Nullable String host,
        @Nullable String path,
        @Nullable String token) {
    @Override
    public String toString() {
        return "ExplainWanted[" + method + "]";
    }
}
