package dev.admit.core.change;

import java.util.Optional;

/**
 * The version of a thing that a change was made from (RFC 9110 §13.1.1).
 *
 * @param version empty for whichever there is
 */
public record Expected(Optional<Long> version) {
    public static final Expected ANY = new Expected(Optional.empty());

    public static Expected version(long version) {
        return new Expected(Optional.of(version));
    }

    /** The same, and where any version would do, this one. */
    public Expected or(long current) {
        return version.isPresent() ? this : version(current);
    }

    /** The outcome when another version is there by now; empty when the change can go on. */
    public <T> Optional<Change<T>> stale(long current) {
        return version.filter(received -> received != current).map(received -> new Change.Stale<>(current, received));
    }
}
