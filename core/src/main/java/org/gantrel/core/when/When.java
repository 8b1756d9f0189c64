package org.gantrel.core.when;

import java.util.Locale;

/** Reads any way of saying when: a phrase of plain English, or a cron expression. */
public final class When {

    /** No sensible rule is longer; what is longer is refused before it is read. */
    public static final int LONGEST = 400;

    private When() {}

    /**
     * Reads a rule.
     *
     * @throws WhenException where the text is neither a phrase nor a cron expression; it names the column
     */
    public static Timetable parse(String text) {
        if (text.length() > LONGEST) {
            throw new WhenException(LONGEST + 1, "too long: at most " + LONGEST + " characters");
        }
        String start = text.strip().toLowerCase(Locale.ROOT);
        if (start.isEmpty()) {
            throw new WhenException(1, "nothing is written; 'every day at 02:30' or '30 2 * * *' would be right");
        }
        boolean wordsFirst = Character.isLetter(start.charAt(0));
        return wordsFirst ? PhraseReader.read(text) : CronReader.read(text);
    }
}
