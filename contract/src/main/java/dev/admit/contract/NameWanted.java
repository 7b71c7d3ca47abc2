package dev.admit.contract;

import org.jspecify.annotations.Nullable;

/** What a copy is to be called. */
public record NameWanted(@Nullable String name) {}
