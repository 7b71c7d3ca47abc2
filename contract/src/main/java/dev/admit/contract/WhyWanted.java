package dev.admit.contract;

import org.jspecify.annotations.Nullable;

/** Why a change is made; null for nothing. */
public record WhyWanted(@Nullable String why) {}
