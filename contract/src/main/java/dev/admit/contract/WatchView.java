package dev.admit.contract;

import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * How far a client has come.
 *
 * @param next what is to be changed; null when nothing is
 * @param decisions the newest first
 * @param admitted whether a call of it has passed
 * @param now by the service's clock
 */
public record WatchView(
        List<Step> steps, @Nullable FixView next, List<DecisionView> decisions, boolean admitted, Instant now) {
    public record Step(boolean done, String said) {}
}
