package org.gantrel.core.expression;

import java.util.function.Supplier;

/**
 * How much an expression, or all expressions of a text, may do: expressions are worked out where many wait for the same thread, and without a bound a few
 * functions over long texts could keep all of them waiting for seconds. It is counted, not timed, so that the same
 * expression with the same values always comes to the same.
 */
final class Work {

    /**
     * A few milliseconds. The unit is what one instruction of a regular expression does with one character, some ten
     * nanoseconds.
     */
    private static final long MOST = 500_000;

    /** What is left for what this thread works out; nothing where it works nothing out. */
    private static final ThreadLocal<Long> LEFT = new ThreadLocal<>();

    private Work() {}

    /** Works out one expression, or several that share what there is. */
    static <T> T within(Supplier<T> expression) {
        if (LEFT.get() != null) {
            return expression.get();
        }
        LEFT.set(MOST);
        try {
            return expression.get();
        } finally {
            LEFT.remove();
        }
    }

    /**
     * Takes some of what is left.
     *
     * @throws ExpressionException where there is not as much
     */
    static void charge(long work) {
        long left = LEFT.get() - work;
        if (left < 0) {
            throw new ExpressionException("it takes too much work: its texts are too long for what is done with them,"
                    + " or there are too many days to look at");
        }
        LEFT.set(left);
    }
}
