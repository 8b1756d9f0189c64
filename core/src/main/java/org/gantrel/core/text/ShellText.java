package org.gantrel.core.text;

import java.util.Collection;
import java.util.stream.Collectors;

/** Texts that a shell takes as they are (IEEE Std 1003.1, Shell Command Language, section 2.2.2). */
public final class ShellText {

    private ShellText() {}

    /**
     * One word, in single quotes.
     *
     * @throws IllegalArgumentException where it holds a NUL, which no word can
     */
    public static String quote(String word) {
        if (word.indexOf('\0') >= 0) {
            throw new IllegalArgumentException("a word for a shell cannot hold a NUL");
        }
        return "'" + word.replace("'", "'\\''") + "'";
    }

    /** Words, blanks between them. */
    public static String quote(Collection<String> words) {
        return words.stream().map(ShellText::quote).collect(Collectors.joining(" "));
    }
}
