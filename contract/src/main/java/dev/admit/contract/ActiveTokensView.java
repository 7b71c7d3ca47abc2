package dev.admit.contract;

import java.util.List;

/**
 * How many tokens may still be active.
 *
 * @param exact false when there are more than were counted
 */
public record ActiveTokensView(List<Count> counts, long total, boolean exact) {
    public record Count(String client, String api, long tokens) {}
}
