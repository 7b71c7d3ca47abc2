package dev.admit.core.change;

import java.util.List;
import java.util.Optional;

/**
 * One page of a list.
 *
 * @param next what to ask with for the page after this one; empty on the last
 */
public record Page<T>(List<T> items, Optional<String> next) {

    /**
     * What part of a list is wanted.
     *
     * @param after the cursor from the page before; empty for the first
     */
    public record Ask(Optional<String> after, int limit) {
        public static final int MOST = 200;

        public Ask {
            if (limit < 1 || limit > MOST) throw new IllegalArgumentException("limit must be 1 to " + MOST);
        }

        public static Ask first(int limit) {
            return new Ask(Optional.empty(), limit);
        }
    }

    /** A cursor that no page gave. */
    public static final class UnknownCursor extends RuntimeException {
        public UnknownCursor(String cursor) {
            super("no page ends at '" + cursor + "'");
        }
    }

    /** Cuts a list that was read with one item more than requested. */
    public static <T> Page<T> of(List<T> oneMore, Ask ask, java.util.function.Function<T, String> cursor) {
        if (oneMore.size() <= ask.limit()) return new Page<>(List.copyOf(oneMore), Optional.empty());
        List<T> items = List.copyOf(oneMore.subList(0, ask.limit()));
        return new Page<>(items, Optional.of(cursor.apply(items.getLast())));
    }
}
