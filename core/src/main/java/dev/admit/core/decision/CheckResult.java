package dev.admit.core.decision;

/** What one named step of a decision found. */
public sealed interface CheckResult {

    /** The name of the check, lower-case words with hyphens. */
    String check();

    /** @param expected what the check wanted, @param came what it found, which was good */
    record Passed(String check, String expected, String came) implements CheckResult {}

    record Refused(String check, Refusal refusal) implements CheckResult {}

    /** @param why the step had nothing to do here, as a phrase */
    record Skipped(String check, String why) implements CheckResult {}

    static CheckResult passed(String check, String expected, String came) {
        return new Passed(check, expected, came);
    }

    static CheckResult refused(String check, Reason reason, String expected, String came, Mend mend) {
        return new Refused(check, new Refusal(reason, expected, came, mend));
    }
}
