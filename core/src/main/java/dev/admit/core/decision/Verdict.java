package dev.admit.core.decision;

/** How a decision ended. */
public enum Verdict {
    ADMITTED,
    REFUSED;

    @Override
    public String toString() {
        return name().toLowerCase(java.util.Locale.ROOT);
    }
}
