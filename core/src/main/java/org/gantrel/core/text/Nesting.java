package org.gantrel.core.text;

/** Bounds how deeply brackets are nested, before anything reads a text that takes a step down for each of them. */
public final class Nesting {

    /** Deeper than anybody writes, and shallow enough for every reader's stack. */
    public static final int DEEPEST = 24;

    private Nesting() {}

    /**
     * Refuses what is nested too deeply.
     *
     * @throws IllegalArgumentException saying how deep it may be
     */
    public static void check(String text) {
        int depth = 0;
        for (int i = 0; i < text.length(); i++) {
            char letter = text.charAt(i);
            if (letter == '(' || letter == '[' || letter == '{') {
                depth++;
            } else if (letter == ')' || letter == ']' || letter == '}') {
                depth = Math.max(0, depth - 1);
            }
            if (depth > DEEPEST) {
                throw new IllegalArgumentException("brackets are nested more than " + DEEPEST + " deep");
            }
        }
    }
}
