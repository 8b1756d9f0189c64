package org.gantrel.core.when;

import java.util.List;
import java.util.Optional;

/** Words for places in a row; a negative place is counted from the end. */
final class Ordinals {

    static final int MOST = 31;

    static final List<String> WORDS = List.of(
            "first", "second", "third", "fourth", "fifth", "sixth", "seventh", "eighth", "ninth", "tenth", "last");

    private Ordinals() {}

    static String word(int place) {
        if (place == -1) {
            return "last";
        }
        if (place < 0) {
            return word(-place) + " last";
        }
        if (place <= 10) {
            return WORDS.get(place - 1);
        }
        boolean teen = place % 100 > 10 && place % 100 < 14;
        return place
                + (teen
                        ? "th"
                        : switch (place % 10) {
                            case 1 -> "st";
                            case 2 -> "nd";
                            case 3 -> "rd";
                            default -> "th";
                        });
    }

    /** The place from the start that a word such as {@code third} or {@code 3rd} stands for. */
    static Optional<Integer> place(String word) {
        int at = WORDS.indexOf(word);
        if (at >= 0 && at < 10) {
            return Optional.of(at + 1);
        }
        return word.matches("0?[1-9](st|nd|rd|th)|[1-9]\\d(st|nd|rd|th)")
                ? Optional.of(Integer.parseInt(word.substring(0, word.length() - 2)))
                : Optional.empty();
    }
}
