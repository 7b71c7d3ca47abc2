package dev.admit.contract;

/** A client is to ask for a scope, or for every scope of a role; each by name or id. */
public record AskWanted(String client, String scope, String role) {}
