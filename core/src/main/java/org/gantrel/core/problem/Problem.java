package org.gantrel.core.problem;

/**
 * One thing that is wrong with what was given: where it stands and what would be right.
 *
 * @param field the path of the field, such as {@code parameters.day.type}; empty for the whole
 * @param line the line in a text, counted from 1; 0 where there is no text
 * @param column the column in that line, counted from 1; 0 where there is no text
 * @param message what is wrong and what is allowed, as a sentence for a person
 */
public record Problem(String field, int line, int column, String message) {

    /** A problem of a field that did not come from a text. */
    public static Problem of(String field, String message) {
        return new Problem(field, 0, 0, message);
    }

    /** The same problem in a text that begins some lines further down. */
    public Problem down(int lines) {
        return line == 0 ? this : new Problem(field, line + lines, column, message);
    }

    /** Place and message in one line. */
    public String sentence() {
        String place = line == 0 ? "" : "line " + line + ", column " + column + ": ";
        return place + (field.isEmpty() ? "" : field + ": ") + message;
    }
}
