package dev.admit.contract;

import org.jspecify.annotations.Nullable;

/**
 * An answer to a subscription.
 *
 * @param plan the plan that is approved, by name: the client may have chosen another since it was looked at
 * @param reason why it is declined, paused or ended
 */
public record SubscriptionAnswer(
        @Nullable String plan, @Nullable String reason) {}
