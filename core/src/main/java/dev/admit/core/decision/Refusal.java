package dev.admit.core.decision;

/**
 * Why Admit said no. Machines read {@code reason}, which never changes; whoever must act reads the rest.
 *
 * @param expected what would have passed, as a phrase without a full stop
 * @param came     what came instead; never a secret, never a claim whose signature was not checked
 */
public record Refusal(Reason reason, String expected, String came, Mend mend) {

    /** The refusal as sentences: what came, what was expected, what to do. */
    public String sentence() {
        return "Expected " + expected + "; came " + came + ". " + mend.sentence();
    }
}
