package dev.admit.contract;

import org.jspecify.annotations.Nullable;

/**
 * An initial access token as it is wanted (RFC 7591 §3).
 *
 * @param label what it is for
 * @param uses how many clients it may register; 1 when left out
 * @param lifetime such as 7d, which is usual
 * @param limits of the clients that register with it
 */
public record InitialAccessTokenWanted(
        @Nullable String label,
        @Nullable Integer uses,
        @Nullable String lifetime,
        @Nullable RegistrationLimits limits) {}
