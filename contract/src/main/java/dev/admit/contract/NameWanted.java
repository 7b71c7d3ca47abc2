package dev.admit.contract;

/** What a copy is to be called. */
public record NameWanted(String name) {}
