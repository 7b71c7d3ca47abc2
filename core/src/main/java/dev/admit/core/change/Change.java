package dev.admit.core.change;

import java.util.List;
import java.util.function.Function;

/** The outcome of a change to what Admit keeps. Only {@link Made} has changed anything. */
public sealed interface Change<T> {

    /** @param notes what Admit did on its own or advises, as sentences: trimmed a value, proposed an audience */
    record Made<T>(T value, List<String> notes) implements Change<T> {}

    /** Some fields cannot be taken as they came. */
    record Invalid<T>(List<FieldFault> faults) implements Change<T> {}

    /** Something of that kind and name is there already, or would be shadowed. */
    record Taken<T>(FieldFault fault) implements Change<T> {}

    /** There is no such thing here. */
    record Absent<T>(String kind, String named) implements Change<T> {}

    /** Another person changed the thing since it was read (RFC 9110 §13.1.1). */
    record Stale<T>(long current, long received) implements Change<T> {}

    /**
     * The change would break something that works, or let something pass that was refused; said again with a word of
     * confirmation it is made.
     *
     * @param what one sentence on what kind of change it is
     * @param wouldBreak what would be so, each a sentence or the name of a thing
     */
    record NeedsConfirmation<T>(String word, String what, List<String> wouldBreak) implements Change<T> {
        public static final String BREAKS = "This would break something that works.";
        public static final String LETS_MORE_PASS = "This would let more pass than now.";

        public NeedsConfirmation(String word, List<String> wouldBreak) {
            this(word, BREAKS, wouldBreak);
        }
    }

    /** A rule says no, whatever the fields hold. */
    record Refused<T>(String sentence, String fix) implements Change<T> {}

    /** The caller's power does not reach so far, whatever they send. */
    record Forbidden<T>(String who, String what) implements Change<T> {
        /**
         * @param who such as {@code administrators}
         * @param what such as {@code import a key}
         */
        public static <T> Change<T> toAllBut(String who, String what) {
            return new Forbidden<>(who, what);
        }

        public String sentence() {
            return "Only %s may %s.".formatted(who, what);
        }
    }

    static <T> Change<T> made(T value, String... notes) {
        return new Made<>(value, List.of(notes));
    }

    static <T> Change<T> invalid(FieldFault... faults) {
        return new Invalid<>(List.of(faults));
    }

    /** The same outcome, with another value where a change was made. */
    @SuppressWarnings("unchecked") // every outcome but Made holds no T
    default <U> Change<U> map(Function<T, U> with) {
        return this instanceof Made<T> made ? new Made<>(with.apply(made.value()), made.notes()) : (Change<U>) this;
    }
}
