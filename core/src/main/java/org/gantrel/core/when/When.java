package org.gantrel.core.when;

import java.util.Arrays;
import java.util.Locale;

/** Reads any way of saying when: a phrase of plain English, a cron expression, or a recurrence rule of iCalendar. */
public final class When {

    /** No sensible rule is longer; what is longer is refused before it is read. */
    public static final int LONGEST = 4_000;

    private When() {}

    /**
     * Reads a rule.
     *
     * @throws WhenException where the text is none of these; it names the column
     */
    public static Timetable parse(String text) {
        if (text.length() > LONGEST) {
            throw new WhenException(LONGEST + 1, "too long: at most " + LONGEST + " characters");
        }
        String start = text.strip().toLowerCase(Locale.ROOT);
        if (start.isEmpty()) {
            throw new WhenException(1, "nothing is written; 'every day at 02:30' or '30 2 * * *' would be right");
        }
        if (RuleReader.looksLikeRule(text)) {
            return RuleReader.read(text);
        }
        return looksLikeCron(start) ? CronReader.read(text) : PhraseReader.read(text);
    }

    /**
     * Reads a rule that was right when it was saved, by the rules of then where those of today refuse it.
     *
     * @throws WhenException where the text is none by either
     */
    public static Timetable parseKept(String text) {
        try {
            Timetable read = parse(text);
            // what begins where it is told to was read otherwise once, or not at all
            return read.kind() == Timetable.Kind.PHRASE && read.needsStart() ? PhraseReader.readKept(text) : read;
        } catch (WhenException e) {
            String start = text.strip().toLowerCase(Locale.ROOT);
            if (text.length() > LONGEST || start.isEmpty() || RuleReader.looksLikeRule(text)) {
                throw e;
            }
            return looksLikeCron(start) ? CronReader.readKept(text) : PhraseReader.readKept(text);
        }
    }

    /**
     * No phrase has a star as a word, or a word that begins with an at sign. Apart from that, the field for the minute has no letters, and a
     * phrase that begins with a number goes on with a word.
     */
    private static boolean looksLikeCron(String start) {
        String[] words = start.split("\\s+");
        if (start.startsWith("@") || Arrays.stream(words).anyMatch(word -> word.startsWith("*"))) {
            return true;
        }
        boolean minuteFirst = words[0].matches("[-\\p{Nd}?/,#lw]+") && !words[0].matches("\\d{4}-.*");
        boolean wordNext = words.length > 1 && words[1].matches("[a-z]{3,}");
        return minuteFirst && !wordNext;
    }
}
