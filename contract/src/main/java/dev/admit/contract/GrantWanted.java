package dev.admit.contract;

import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * Scopes that an administrator grants to a client in one step.
 *
 * @param client name or id
 * @param scopes names of scopes, or of roles, which stand for their scopes
 * @param until a time, or a length such as 90d; null for as long as no administrator withdraws them
 */
public record GrantWanted(
        @Nullable String client,
        @Nullable List<String> scopes,
        @Nullable String until) {}
