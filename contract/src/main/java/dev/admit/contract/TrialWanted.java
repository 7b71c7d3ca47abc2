package dev.admit.contract;

/** A trial token that is wanted. @param scope space-separated, @param resource an audience; either may be null */
public record TrialWanted(String client, String scope, String resource) {}
