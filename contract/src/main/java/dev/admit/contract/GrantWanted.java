package dev.admit.contract;

import java.util.List;

/**
 * Scopes that an administrator grants to a client in one step.
 *
 * @param client name or id
 * @param scopes names of scopes, or of roles, which stand for their scopes
 * @param until a time, or a length such as 90d; null for as long as no administrator withdraws them
 */
public record GrantWanted(String client, List<String> scopes, String until) {}
