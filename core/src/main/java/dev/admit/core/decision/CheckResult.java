package dev.admit.core.decision;

/** What one named step of a decision found. */
public sealed interface CheckResult {

    /** The name of the check, lower-case words with hyphens. */
    String check();

    /**
     * @param expected what the check wanted
     * @param received what it found, which was good
     */
    record Passed(String check, String expected, String received) implements CheckResult {}

    record Refused(String check, Refusal refusal) implements CheckResult {}

    /** @param why the step had nothing to do here, as a phrase */
    record Skipped(String check, String why) implements CheckResult {}

    static CheckResult passed(String check, String expected, String received) {
        return new Passed(check, expected, received);
    }

    static Refused refused(String check, Reason reason, String expected, String received, Fix fix) {
        return new Refused(check, new Refusal(reason, expected, received, fix));
    }
}
