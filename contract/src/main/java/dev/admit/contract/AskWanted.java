package dev.admit.contract;

/** A client is to ask for a scope; each by name or id. */
public record AskWanted(String client, String scope) {}
