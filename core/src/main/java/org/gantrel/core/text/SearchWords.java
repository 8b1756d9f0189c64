package org.gantrel.core.text;

import java.util.LinkedHashSet;
import java.util.Locale;
import java.util.Set;

/**
 * The words by which a text is found. A word that is joined from parts can be found from each part on: {@code
 * settle-tickets} by what it begins with and by {@code tickets}.
 */
public final class SearchWords {

    /** Words are kept up to this many characters; what is looked for is cut alike. */
    public static final int LONGEST = 40;

    private static final int MOST = 60;

    private SearchWords() {}

    /** The words of a text in lower case, each once and no more than some dozens of them. */
    public static Set<String> of(String text) {
        var words = new LinkedHashSet<String>();
        for (String chunk : chunks(text)) {
            String rest = chunk;
            while (!rest.isEmpty() && words.size() < MOST) {
                words.add(cut(rest));
                rest = rest.replaceFirst("^[\\p{L}\\p{N}]+[^\\p{L}\\p{N}]*", "");
            }
        }
        return words;
    }

    /** What is looked for: each of these begins a word of a text that holds them all. */
    public static Set<String> lookedFor(String text) {
        var words = new LinkedHashSet<String>();
        for (String chunk : chunks(text)) {
            words.add(cut(chunk));
        }
        return words;
    }

    private static Set<String> chunks(String text) {
        var chunks = new LinkedHashSet<String>();
        for (String chunk : text.toLowerCase(Locale.ROOT).split("\\s+")) {
            String bare = chunk.replaceAll("^[^\\p{L}\\p{N}]+|[^\\p{L}\\p{N}]+$", "");
            if (!bare.isEmpty()) {
                chunks.add(bare);
            }
        }
        return chunks;
    }

    private static String cut(String word) {
        return word.length() <= LONGEST ? word : word.substring(0, LONGEST);
    }
}
