package org.gantrel.core.text;

import java.util.Collection;
import java.util.Comparator;
import java.util.Locale;
import java.util.Optional;

/** Finds the known word that a misspelt one was probably meant to be, by the distance of Damerau and Levenshtein. */
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

    /** How many letters have to be added, left out, changed or swapped with their neighbour (optimal string alignment). */
    private static int distance(String a, String b) {
        int[][] cost = new int[a.length() + 1][b.length() + 1];
        for (int i = 0; i <= a.length(); i++) {
            cost[i][0] = i;
        }
        for (int j = 0; j <= b.length(); j++) {
            cost[0][j] = j;
        }
        for (int i = 1; i <= a.length(); i++) {
            for (int j = 1; j <= b.length(); j++) {
                boolean same = a.charAt(i - 1) == b.charAt(j - 1);
                int change = cost[i - 1][j - 1] + (same ? 0 : 1);
                cost[i][j] = Math.min(change, 1 + Math.min(cost[i - 1][j], cost[i][j - 1]));
                boolean swapped =
                        i > 1 && j > 1 && a.charAt(i - 1) == b.charAt(j - 2) && a.charAt(i - 2) == b.charAt(j - 1);
                if (swapped) {
                    cost[i][j] = Math.min(cost[i][j], cost[i - 2][j - 2] + 1);
                }
            }
        }
        return cost[a.length()][b.length()];
    }
}
