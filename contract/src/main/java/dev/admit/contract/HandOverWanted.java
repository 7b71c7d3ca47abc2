package dev.admit.contract;

import org.jspecify.annotations.Nullable;

/** Who hands over what they answer for, and to whom; addresses or ids. */
public record HandOverWanted(
        @Nullable String from, @Nullable String to) {}
