package org.gantrel.core.when;

import java.time.DateTimeException;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.gantrel.core.text.Nearest;

/** The words of a phrase, one after the other, each with the column at which it stands. */
final class PhraseTokens {

    private static final Pattern TOKEN = Pattern.compile("[^\\s,;&]+|[,;&]");
    private static final Pattern RANGE = Pattern.compile("([a-z]+)[-–]([a-z]+)");
    private static final Pattern JOINED = Pattern.compile("(\\d+)([a-z]{4,})");
    private static final List<String> NUMBERS =
            List.of("two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve");

    /** A word in lower case. */
    record Token(String word, int column) {
        boolean is(String... words) {
            return List.of(words).contains(word);
        }

        boolean isNumber() {
            return word.matches("\\d{1,9}") || NUMBERS.contains(word);
        }

        /** The number that it is. */
        int number() {
            int named = NUMBERS.indexOf(word);
            return named >= 0 ? named + 2 : Integer.parseInt(word);
        }

        boolean isDate() {
            return word.matches("\\d{4}-\\d{1,2}-\\d{1,2}");
        }

        /** Whether it can be a time and nothing else, such as 7:30, 9am or noon. */
        boolean isTime() {
            return word.matches("\\d{1,2}:\\d{2}([ap]m)?|\\d{1,2}[ap]m|noon|midnight");
        }

        boolean isSeparator() {
            return is(",", ";", "&", "and");
        }
    }

    private final List<Token> tokens = new ArrayList<>();
    private final int end;
    private int at;

    PhraseTokens(String text) {
        end = text.stripTrailing().length() + 1;
        Matcher matcher = TOKEN.matcher(text);
        while (matcher.find()) {
            add(matcher.group().toLowerCase(Locale.ROOT), matcher.start() + 1);
        }
    }

    /** Takes "mon-fri" and "15minutes" apart. */
    private void add(String word, int column) {
        Matcher range = RANGE.matcher(word);
        Matcher joined = JOINED.matcher(word);
        if (range.matches()) {
            tokens.add(new Token(range.group(1), column));
            tokens.add(new Token("to", column + range.end(1)));
            tokens.add(new Token(range.group(2), column + range.start(2)));
        } else if (joined.matches()) {
            tokens.add(new Token(joined.group(1), column));
            tokens.add(new Token(joined.group(2), column + joined.start(2)));
        } else {
            tokens.add(new Token(word, column));
        }
    }

    boolean hasMore() {
        return at < tokens.size();
    }

    /** Where the next word stands, or where the phrase ends. */
    int column() {
        return hasMore() ? tokens.get(at).column() : end;
    }

    boolean nextIs(String... words) {
        return hasMore() && tokens.get(at).is(words);
    }

    /** The word after the next, where there is one. */
    boolean secondIs(String... words) {
        return at + 1 < tokens.size() && tokens.get(at + 1).is(words);
    }

    boolean secondIsNumber() {
        return at + 1 < tokens.size() && tokens.get(at + 1).isNumber();
    }

    Token peek(String expected) {
        if (!hasMore()) {
            throw new WhenException(end, "the phrase ends where " + expected + " is expected");
        }
        return tokens.get(at);
    }

    Token take(String expected) {
        Token token = peek(expected);
        at++;
        return token;
    }

    /** Goes on past a word where it comes next; says whether it did. */
    boolean skip(String... words) {
        if (nextIs(words)) {
            at++;
            return true;
        }
        return false;
    }

    /** Takes a day such as 2026-11-23. */
    LocalDate date() {
        Token token = take("a day such as 2026-11-23");
        try {
            if (token.isDate()) {
                String[] parts = token.word().split("-");
                return LocalDate.of(Integer.parseInt(parts[0]), Integer.parseInt(parts[1]), Integer.parseInt(parts[2]));
            }
        } catch (DateTimeException e) {
            throw new WhenException(token.column(), "'" + token.word() + "' is no day of the calendar");
        }
        throw new WhenException(token.column(), "'" + token.word() + "': a day such as 2026-11-23 is expected");
    }

    /** Goes past commas and "and"; says whether there were any. */
    boolean skipSeparators() {
        boolean any = false;
        while (hasMore() && tokens.get(at).isSeparator()) {
            at++;
            any = true;
        }
        return any;
    }

    /** Where the reading stands, to come back to. */
    int mark() {
        return at;
    }

    void back(int mark) {
        at = mark;
    }

    static WhenException wrong(Token token, String expected, List<String> known) {
        return new WhenException(
                token.column(), "'" + token.word() + "': " + expected + Nearest.hint(token.word(), known));
    }
}
