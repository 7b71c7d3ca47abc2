package dev.admit.core.expression;

import dev.cel.common.ast.CelExpr;

/**
 * How many copies of what it is given an expression can put into its result at the most: {@code a + a} two, and for
 * each of several turns one after another twice as many as before. Lists and texts alike: a list of two lists is two
 * copies, though they are one in memory.
 */
final class Growth {
    /** Beyond this no sum is of interest; it keeps the sums themselves from growing. */
    private static final long PLENTY = 1L << 40;

    private Growth() {}

    static long of(CelExpr it) {
        return switch (it.getKind()) {
            case NOT_SET, CONSTANT -> 0;
            case IDENT -> 1;
            case SELECT -> it.select().testOnly() ? 0 : of(it.select().operand());
            case CALL -> call(it.call());
            case LIST -> sum(it.list().elements());
            case MAP ->
                it.map().entries().stream()
                        .mapToLong(entry -> plus(of(entry.key()), of(entry.value())))
                        .reduce(0, Growth::plus);
            case STRUCT ->
                it.struct().entries().stream()
                        .mapToLong(entry -> of(entry.value()))
                        .reduce(0, Growth::plus);
            case COMPREHENSION -> comprehension(it.comprehension());
        };
    }

    /** What comes to a number or a truth holds no copy; what is not known to, may hold all that it is given. */
    private static long call(CelExpr.CelCall it) {
        long target = it.target().map(Growth::of).orElse(0L);
        long arguments = sum(it.args());
        return switch (it.function()) {
            case "_==_",
                    "_!=_",
                    "_<_",
                    "_<=_",
                    "_>_",
                    "_>=_",
                    "@in",
                    "_in_",
                    "!_",
                    "_&&_",
                    "_||_",
                    "size",
                    "matches",
                    "startsWith",
                    "endsWith",
                    "contains",
                    "@not_strictly_false" ->
                Math.max(target, arguments) > Expression.MOST_COPIES ? Math.max(target, arguments) : 0;
            case "_?_:_" -> Math.max(of(it.args().get(1)), of(it.args().get(2)));
            default -> plus(target, arguments);
        };
    }

    /**
     * Each turn puts what it makes of one element beside what the turns before it made; the elements together are the
     * range.
     */
    private static long comprehension(CelExpr.CelComprehension it) {
        long turn = Math.max(1, withoutAccumulator(it.loopStep(), it.accuVar()));
        return plus(of(it.accuInit()), times(Math.max(1, of(it.iterRange())), turn));
    }

    private static long withoutAccumulator(CelExpr step, String accumulator) {
        return Math.max(0, of(step) - occurrences(step, accumulator));
    }

    /**
     * How often the step takes the accumulator along; once is how lists and truths are gathered, twice doubles it each
     * turn.
     */
    private static long occurrences(CelExpr it, String name) {
        return switch (it.getKind()) {
            case IDENT -> it.ident().name().equals(name) ? 1 : 0;
            case CALL ->
                Math.min(
                        1,
                        it.call().args().stream()
                                        .mapToLong(one -> occurrences(one, name))
                                        .sum()
                                + it.call()
                                        .target()
                                        .map(one -> occurrences(one, name))
                                        .orElse(0L));
            default -> 0;
        };
    }

    private static long sum(Iterable<CelExpr> all) {
        long sum = 0;
        for (CelExpr one : all) sum = plus(sum, of(one));
        return sum;
    }

    private static long plus(long one, long other) {
        return Math.min(PLENTY, one + other);
    }

    private static long times(long one, long other) {
        return one > PLENTY / Math.max(1, other) ? PLENTY : one * other;
    }
}
