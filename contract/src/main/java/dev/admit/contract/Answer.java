package dev.admit.contract;

import org.jspecify.annotations.Nullable;

/**
 * An answer to a request.
 *
 * @param until how long a yes holds: 90d or a time
 * @param reason why it is a no
 */
public record Answer(@Nullable String until, @Nullable String reason) {}
