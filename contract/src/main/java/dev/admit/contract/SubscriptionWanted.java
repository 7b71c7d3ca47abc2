package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import org.jspecify.annotations.Nullable;

/**
 * A subscription as it is wanted.
 *
 * @param plan by name
 * @param acceptTerms the version of the plan's terms that was read and is accepted; null where there are none
 */
public record SubscriptionWanted(
        @Nullable String plan,
        @JsonProperty("accept_terms") @Nullable Long acceptTerms) {}
