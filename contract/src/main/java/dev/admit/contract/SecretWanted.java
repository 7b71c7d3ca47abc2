package dev.admit.contract;

import org.jspecify.annotations.Nullable;

/**
 * A secret to be made.
 *
 * @param lifetime such as 90d, or never where allowed
 * @param overlap how long the others live on when they are replaced
 */
public record SecretWanted(
        @Nullable String label,
        @Nullable String lifetime,
        @Nullable String overlap) {}
