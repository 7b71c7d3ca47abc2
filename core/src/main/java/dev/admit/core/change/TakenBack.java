package dev.admit.core.change;

/** Carries what work came to out of a transaction that is to leave nothing behind. */
public final class TakenBack extends RuntimeException {
    private final transient Object outcome;

    public TakenBack(Object outcome) {
        super("taken back", null, false, false);
        this.outcome = outcome;
    }

    public Object outcome() {
        return outcome;
    }
}
