package org.gantrel.core.text;

import java.util.Collection;
import java.util.Comparator;
import java.util.Locale;
import java.util.Optional;

/** Finds the known word that a misspelt one was probably meant to be, by Levenshtein distance. */
public final class Nearest {

    private Nearest() {}

    /** The nearest of the known words, if one is near enough (a third of its letters, two at least, may be wrong). */
    public static Optional<String> to(String word, Collection<String> known) {
        String wanted = word.toLowerCase(Locale.ROOT);
        if (wanted.length() > 80) {
            return Optional.empty();
        }
        return known.stream()
                .filter(candidate -> distance(wanted, candidate.toLowerCase(Locale.ROOT)) <= tolerance(candidate))
                .min(Comparator.comparingInt(
                        (String candidate) -> distance(wanted, candidate.toLowerCase(Locale.ROOT))));
    }

    /** A sentence end such as {@code "; did you mean 'every'?"}, or nothing where no known word is near. */
    public static String hint(String word, Collection<String> known) {
        return to(word, known).map(near -> "; did you mean '" + near + "'?").orElse("");
    }

    private static int tolerance(String candidate) {
        return Math.max(2, candidate.length() / 3);
    }

    private static int distance(String a, String b) {
        int[] above = new int[b.length() + 1];
        for (int j = 0; j <= b.length(); j++) {
            above[j] = j;
        }
        for (int i = 1; i <= a.length(); i++) {
            int[] row = new int[b.length() + 1];
            row[0] = i;
            for (int j = 1; j <= b.length(); j++) {
                int swap = above[j - 1] + (a.charAt(i - 1) == b.charAt(j - 1) ? 0 : 1);
                row[j] = Math.min(swap, 1 + Math.min(above[j], row[j - 1]));
            }
            above = row;
        }
        return above[b.length()];
    }
}
