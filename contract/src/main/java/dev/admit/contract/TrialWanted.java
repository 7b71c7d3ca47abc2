package dev.admit.contract;

import org.jspecify.annotations.Nullable;

/**
 * A trial token that is wanted.
 *
 * @param scope space-separated
 * @param resource an audience; either may be null
 */
public record TrialWanted(
        @Nullable String client,
        @Nullable String scope,
        @Nullable String resource) {}
