package dev.admit.contract;

import org.jspecify.annotations.Nullable;

/**
 * One step of a decision.
 *
 * @param outcome passed, refused or skipped
 * @param why of a skipped one
 * @param nanos how long it took; null where that was not measured
 */
public record CheckView(
        String check,
        @OneOf({"passed", "refused", "skipped"}) String outcome,
        @Nullable String expected,
        @Nullable String received,
        @Nullable String why,
        @Nullable Integer nanos) {}
