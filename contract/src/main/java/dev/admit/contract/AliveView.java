package dev.admit.contract;

import java.util.List;

/** How many tokens may still be alive. @param exact false when there are more than were counted */
public record AliveView(List<Count> counts, long total, boolean exact) {
    public record Count(String client, String api, long tokens) {}
}
