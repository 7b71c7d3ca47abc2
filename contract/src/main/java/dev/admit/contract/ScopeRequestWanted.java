package dev.admit.contract;

/** A client is to request a scope, or for every scope of a role; each by name or id. */
public record ScopeRequestWanted(String client, String scope, String role) {}
