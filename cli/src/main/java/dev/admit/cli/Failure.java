package dev.admit.cli;

/**
 * A command did not do what it was asked: what happened, why, what to do, and the exit code that says of which kind it
 * is.
 */
final class Failure extends RuntimeException {
    /** Refused by a rule. */
    static final int REFUSED = 1;

    static final int WRONG_USAGE = 2;
    static final int NOT_REACHABLE = 3;
    static final int FAULT = 4;

    private final int exitCode;
    private final String sentences;

    Failure(int exitCode, String sentences) {
        super(sentences);
        this.exitCode = exitCode;
        this.sentences = sentences;
    }

    String said() {
        return sentences;
    }

    int exitCode() {
        return exitCode;
    }
}
