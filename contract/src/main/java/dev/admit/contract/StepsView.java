package dev.admit.contract;

import java.util.List;

/**
 * What was tried, step by step.
 *
 * @param good whether all of it went well
 */
public record StepsView(boolean good, List<Step> steps) {
    public record Step(String step, boolean good, String said) {}
}
