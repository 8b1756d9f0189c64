package org.gantrel.core.text;

import java.util.regex.Pattern;

/**
 * A regular expression that somebody wrote into a definition, matched in time that grows with the length of the text
 * only (RE2 syntax), so that no pattern and no text can keep others waiting.
 *
 * <p>Definitions of old may hold what RE2 has not, such as a look ahead. They still match, within a budget of steps.
 */
public final class SafePattern {

    /** How large a pattern may become; matching takes so many steps for each character at most. */
    private static final int LARGEST = 5_000;

    private static final int MOST_STEPS = 2_000_000;
    private static final Pattern NOT_LINEAR = Pattern.compile("\\(\\?(?:[=!>]|<[=!])|\\\\[1-9]|[*+?}]\\+");

    private final String text;
    private final com.google.re2j.Pattern linear;
    private final Pattern old;

    private SafePattern(String text, com.google.re2j.Pattern linear, Pattern old) {
        this.text = text;
        this.linear = linear;
        this.old = old;
    }

    /** A pattern could not be matched: the text is too much for it. */
    public static final class TooMuch extends RuntimeException {
        TooMuch(String message) {
            super(message);
        }
    }

    /**
     * Reads a pattern.
     *
     * @throws IllegalArgumentException saying what is wrong with it
     */
    public static SafePattern of(String text) {
        Nesting.check(text);
        if (PatternSize.of(text) > LARGEST) {
            throw new IllegalArgumentException("'" + start(text) + "' is too large once its repetitions are written"
                    + " out: at most " + LARGEST + " instructions are taken");
        }
        try {
            return new SafePattern(text, com.google.re2j.Pattern.compile(text), null);
        } catch (com.google.re2j.PatternSyntaxException e) {
            throw new IllegalArgumentException(
                    isJavas(text)
                            ? "'" + text
                                    + "': look-arounds, back references and possessive forms cannot be used, since they"
                                    + " can take for ever (RE2 syntax)"
                            : "'" + text + "' is no regular expression: " + e.getDescription());
        }
    }

    /** Reads a pattern that was right by older rules. */
    public static SafePattern kept(String text) {
        Nesting.check(text);
        try {
            return of(text);
        } catch (IllegalArgumentException e) {
            return new SafePattern(text, null, Pattern.compile(text));
        }
    }

    private static String start(String text) {
        return text.length() <= 60 ? text : text.substring(0, 60) + "...";
    }

    /** Whether a pattern holds what only other kinds of expressions have. */
    private static boolean isJavas(String text) {
        return NOT_LINEAR.matcher(text).find();
    }

    /** Whether the whole of a text matches. */
    public boolean matches(String whole) {
        return linear != null ? linear.matches(whole) : within(whole, true);
    }

    /** Whether a part of a text matches. */
    public boolean isIn(String whole) {
        return linear != null ? linear.matcher(whole).find() : within(whole, false);
    }

    private boolean within(String whole, boolean all) {
        try {
            var matcher = old.matcher(new Budget(whole, new int[] {MOST_STEPS}));
            return all ? matcher.matches() : matcher.find();
        } catch (TooMuch | StackOverflowError e) {
            throw new TooMuch("a line of " + whole.length() + " characters is too much for the pattern '" + text + "'");
        }
    }

    /** How many instructions it comes to: matching takes that many steps for each character at most. */
    public int size() {
        return linear != null ? linear.programSize() : text.length();
    }

    /** The pattern as it was written. */
    public String pattern() {
        return text;
    }

    @Override
    public String toString() {
        return text;
    }

    /** A text that may be looked at so many times. */
    private record Budget(CharSequence text, int[] left) implements CharSequence {

        @Override
        public char charAt(int index) {
            if (--left[0] < 0) {
                throw new TooMuch("");
            }
            return text.charAt(index);
        }

        @Override
        public int length() {
            return text.length();
        }

        @Override
        public CharSequence subSequence(int start, int end) {
            return new Budget(text.subSequence(start, end), left);
        }

        @Override
        public String toString() {
            return text.toString();
        }
    }
}
