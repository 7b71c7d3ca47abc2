package dev.admit.cli;

/** Two options that cannot both be meant. */
final class Contradiction {
    private Contradiction() {}

    static void refuse(String one, boolean saidOne, String other, boolean saidOther) {
        if (saidOne && saidOther)
            throw new Failure(
                    Failure.WRONG_USAGE, "%s and %s contradict each other. Say one of the two.".formatted(one, other));
    }

    /** An option that means nothing without another. */
    static void refuseAlone(String one, boolean saidOne, String without, boolean saidOther) {
        if (saidOne && !saidOther)
            throw new Failure(
                    Failure.WRONG_USAGE, "%s means nothing without %s. Say both, or neither.".formatted(one, without));
    }
}
