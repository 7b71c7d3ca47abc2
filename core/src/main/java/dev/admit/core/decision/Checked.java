package dev.admit.core.decision;

import java.time.Duration;
import java.util.List;
import java.util.concurrent.CompletionStage;

/**
 * The result of one stage of a request's line. A stage is given what it needs and knows nothing of the decision; the
 * line hands its result to the {@link Recorder}, and goes on with what was found or ends.
 *
 * @param <T> what the stages after it need
 */
public sealed interface Checked<T> {

    /**
     * The line goes on.
     *
     * @param checks what was looked at; empty where there was nothing to look at
     */
    record Passed<T>(T found, List<CheckResult> checks) implements Checked<T> {}

    /**
     * The line ends here.
     *
     * @param holdBack how long the answer waits, to slow the one who guesses
     */
    record Refused<T>(CheckResult.Refused check, Duration holdBack) implements Checked<T> {}

    /**
     * Something elsewhere must be known first; then the request is decided on anew.
     *
     * @param meanwhile what holds where nobody waits
     */
    record Waits<T>(CompletionStage<?> stage, CheckResult.Refused meanwhile) implements Checked<T> {}

    static <T> Checked<T> passed(T found) {
        return new Passed<>(found, List.of());
    }

    static <T> Checked<T> passed(T found, CheckResult check) {
        return new Passed<>(found, List.of(check));
    }

    /** @see CheckResult#refused */
    static <T> Checked<T> refused(String check, Reason reason, String expected, String received, Fix fix) {
        return refused(CheckResult.refused(check, reason, expected, received, fix));
    }

    static <T> Checked<T> refused(CheckResult.Refused check) {
        return new Refused<>(check, Duration.ZERO);
    }
}
