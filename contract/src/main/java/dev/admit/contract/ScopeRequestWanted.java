package dev.admit.contract;

import org.jspecify.annotations.Nullable;

/** A client is to request a scope, or for every scope of a role; each by name or id. */
public record ScopeRequestWanted(
        @Nullable String client,
        @Nullable String scope,
        @Nullable String role) {}
