package org.gantrel.core.when;

/** Says which part of a schedule's text is wrong, at which column, and what would be right. */
public final class WhenException extends RuntimeException {

    private final transient int column;

    /**
     * @param column where the wrong part begins, counted from 1
     * @param message what is wrong there and what would be right
     */
    public WhenException(int column, String message) {
        super(message);
        this.column = column;
    }

    /** Where the wrong part begins, counted from 1. */
    public int column() {
        return column;
    }

    /** The message with its column, as it is shown to a person. */
    public String sentence() {
        return "column " + column + ": " + getMessage();
    }
}
