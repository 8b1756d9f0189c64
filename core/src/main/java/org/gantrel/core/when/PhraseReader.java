package org.gantrel.core.when;

import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.gantrel.core.when.PhraseTokens.Token;

/**
 * Reads the phrase language, whose grammar is in docs/phrases.md. A phrase is a row of clauses in any order; each begins
 * with a word of its own. What is printed is always the same order.
 */
final class PhraseReader {

    private static final Pattern TIME = Pattern.compile("(\\d{1,2}):(\\d{2})(am|pm)?|(\\d{1,2})(am|pm)");
    private static final Pattern PAST = Pattern.compile(":(\\d{2})");
    private static final List<String> BEGINNINGS = List.of(
            "every",
            "daily",
            "hourly",
            "weekly",
            "monthly",
            "quarterly",
            "yearly",
            "at",
            "on",
            "once",
            "first",
            "second",
            "third",
            "fourth",
            "fifth",
            "last",
            "day",
            "between",
            "from",
            "until",
            "of",
            "in");

    private final PhraseTokens tokens;
    private final PhraseDays days;
    private int step;
    private int stepColumn;
    private final List<Integer> minutes = new ArrayList<>();
    private final List<Integer> past = new ArrayList<>();
    private Optional<Rhythm.Between> between = Optional.empty();
    private int betweenColumn;
    private Optional<LocalDate> from = Optional.empty();
    private Optional<LocalDate> until = Optional.empty();
    private Optional<Integer> count = Optional.empty();
    private int countColumn;

    /** Whether a phrase is read as it was when words could be said twice, and the later went before. */
    private final boolean kept;

    private PhraseReader(String text, boolean kept) {
        this.kept = kept;
        tokens = new PhraseTokens(text);
        days = new PhraseDays(tokens, kept);
    }

    static Phrase read(String text) {
        return new PhraseReader(text, false).phrase();
    }

    static Phrase readKept(String text) {
        return new PhraseReader(text, true).phrase();
    }

    private Phrase phrase() {
        boolean joined = true;
        while (tokens.hasMore()) {
            clause(joined);
            joined = tokens.skipSeparators();
        }
        Rhythm rhythm = rhythm();
        DayChoice choice = days.choice(step > 0 || !past.isEmpty(), " " + rhythm.words());
        if (count.isPresent() && from.isEmpty() && !(choice instanceof DayChoice.Once)) {
            throw new WhenException(
                    countColumn, "so many times can only be counted from a first day, such as 'from 2026-11-23'");
        }
        if (from.isPresent() && until.isPresent() && until.get().isBefore(from.get())) {
            throw new WhenException(tokens.column(), "it would end, on " + until.get() + ", before it begins");
        }
        return new Phrase(rhythm, choice, new Bounds(from, until, count));
    }

    /** What a phrase says once; saying it again would undo or repeat what was said. */
    private void first(boolean said, Token token, String what) {
        if (said && !kept) {
            throw new WhenException(
                    token.column(), "'" + token.word() + "': " + what + " is said twice; two schedules can say both");
        }
    }

    private void clause(boolean joined) {
        Token token = tokens.peek("'every'");
        if (token.is("every", "each")) {
            tokens.take("");
            every(joined);
        } else if (token.is("at") && tokens.secondIs("most")) {
            tokens.take("");
            tokens.take("");
            times();
        } else if (token.is("at") || token.isTime()) {
            first(!minutes.isEmpty() || !past.isEmpty(), token, "the time of the day");
            tokens.skip("at");
            clockTimes();
        } else if (token.is("between")) {
            first(between.isPresent(), token, "the part of the day");
            tokens.take("");
            between("and", "to");
        } else if (token.is("from", "starting", "since", "beginning")) {
            tokens.take("");
            tokens.skip("on");
            from(token);
        } else if (token.is("until", "till", "to", "through")) {
            first(until.isPresent(), token, "the last day");
            tokens.take("");
            until = Optional.of(tokens.date());
        } else if (token.is("once")) {
            tokens.take("");
            tokens.skip("on");
            days.date();
        } else if (token.isNumber() && tokens.secondIs("times", "time")) {
            times();
        } else if (!ready(token) && !days.clause(joined)) {
            throw PhraseTokens.wrong(token, "no part of a phrase begins so", BEGINNINGS);
        }
    }

    /** Words that stand for a whole clause. */
    private boolean ready(Token token) {
        switch (token.word()) {
            case "hourly" -> step(60, token);
            case "daily" -> days.weekly(Weekdays.ALL, token);
            case "weekly" -> days.period(Period.WEEK, 1, token.column());
            case "monthly" -> days.period(Period.MONTH, 1, token.column());
            case "quarterly" -> days.period(Period.QUARTER, 1, token.column());
            case "yearly", "annually" -> days.period(Period.YEAR, 1, token.column());
            default -> {
                return false;
            }
        }
        tokens.take("");
        return true;
    }

    private void every(boolean joined) {
        Token first = tokens.peek("'5 minutes' or 'day at 02:30'");
        int number = 1;
        if (first.isNumber() || first.is("other")) {
            tokens.take("");
            number = first.is("other") ? 2 : number(first);
        }
        Token unit = tokens.peek("'minutes', 'hours', 'days', 'weeks' or 'months'");
        if (unit.is("minute", "minutes", "min", "mins")) {
            tokens.take("");
            limit(number, 1440, first, unit);
            step(number, first);
        } else if (unit.is("hour", "hours")) {
            tokens.take("");
            limit(number, 24, first, unit);
            step(number * 60, first);
        } else if (first.isNumber() || first.is("other")) {
            days.added(joined);
            days.everyNth(number, first);
        } else {
            if (!unit.is("week", "month", "quarter", "year")) {
                days.added(joined);
            }
            days.every();
        }
    }

    private void step(int of, Token token) {
        first(step > 0, token, "the step");
        step = of;
        stepColumn = token.column();
    }

    private void clockTimes() {
        do {
            Token token = tokens.take("a time such as 02:30");
            Matcher minute = PAST.matcher(token.word());
            if (minute.matches()) {
                int number = Integer.parseInt(minute.group(1));
                if (number > 59) {
                    throw new WhenException(token.column(), "'" + token.word() + "': :00 to :59 would be right");
                }
                addOnce(past, number, token);
            } else {
                addOnce(minutes, clock(token), token);
            }
        } while (anotherTime());
    }

    private void addOnce(List<Integer> into, int number, Token token) {
        if (into.contains(number) && !kept) {
            throw new WhenException(token.column(), "'" + token.word() + "' is said twice");
        }
        into.add(number);
    }

    /** Goes past a comma or "and", and "at", where another time follows. */
    private boolean anotherTime() {
        int mark = tokens.mark();
        if (tokens.skipSeparators()) {
            boolean at = tokens.nextIs("at") && !tokens.secondIs("most");
            if (at) {
                tokens.take("");
            }
            if (at || looksLikeTime()) {
                return true;
            }
        }
        tokens.back(mark);
        return false;
    }

    private boolean looksLikeTime() {
        return tokens.hasMore()
                && (tokens.peek("").word().matches("[:\\d].*")
                                && !tokens.peek("").isDate()
                        || tokens.nextIs("noon", "midnight"))
                && !tokens.secondIs("times", "time");
    }

    /** The minute of the day that a time such as 17:00, 5pm, 5 pm or noon stands for. */
    private int clock(Token token) {
        if (token.is("noon")) {
            return 720;
        }
        if (token.is("midnight")) {
            return 0;
        }
        boolean apart = token.word().matches("\\d{1,2}(:\\d{2})?") && tokens.nextIs("am", "pm");
        boolean hour24 = !apart && token.word().matches("\\d{1,2}");
        String text = apart ? token.word() + tokens.take("").word() : token.word() + (hour24 ? ":00" : "");
        Matcher time = TIME.matcher(text);
        if (!time.matches()) {
            throw new WhenException(token.column(), "'" + token.word() + "': a time such as 02:30 is expected");
        }
        boolean short12 = time.group(4) != null;
        int hour = Integer.parseInt(short12 ? time.group(4) : time.group(1));
        int minute = short12 ? 0 : Integer.parseInt(time.group(2));
        String half = short12 ? time.group(5) : time.group(3);
        if (half != null && (hour < 1 || hour > 12)) {
            throw new WhenException(token.column(), "'" + text + "': 1am to 12pm would be right");
        }
        if (half != null) {
            hour = hour % 12 + (half.equals("pm") ? 12 : 0);
        }
        if (hour > 23 || minute > 59) {
            throw new WhenException(token.column(), "'" + token.word() + "': 00:00 to 23:59 would be right");
        }
        return hour * 60 + minute;
    }

    private void between(String... joints) {
        betweenColumn = tokens.column();
        int start = clock(tokens.take("a time such as 06:00"));
        Token joint = tokens.take("'" + joints[0] + "'");
        if (!joint.is(joints)) {
            throw PhraseTokens.wrong(joint, "'" + joints[0] + "' and a time are expected", List.of(joints));
        }
        between = Optional.of(new Rhythm.Between(start, clock(tokens.take("a time such as 22:00"))));
    }

    /** "from" stands before a first day, or before a part of the day. */
    private void from(Token token) {
        if (tokens.peek("a day such as 2026-11-23").isDate()) {
            first(from.isPresent(), token, "the first day");
            from = Optional.of(tokens.date());
        } else if (looksLikeTime()) {
            first(between.isPresent(), token, "the part of the day");
            between("to", "until", "till");
        } else {
            tokens.date();
        }
    }

    private void times() {
        Token token = tokens.take("a number of times");
        first(count.isPresent(), token, "how many times");
        countColumn = token.column();
        if (!token.isNumber()) {
            throw new WhenException(token.column(), "'" + token.word() + "': a number of times is expected");
        }
        int number = number(token);
        if (number < 1 || number > Bounds.MOST_TIMES) {
            throw new WhenException(token.column(), number + " times: 1 to " + Bounds.MOST_TIMES + " would be right");
        }
        if (!tokens.skip("times", "time")) {
            throw new WhenException(tokens.column(), "'times' is expected after the number");
        }
        count = Optional.of(number);
    }

    private Rhythm rhythm() {
        if (step > 0 && !minutes.isEmpty()) {
            throw new WhenException(stepColumn, "either steps, 'every 15 minutes', or times, 'at 02:30', but not both");
        }
        if (!past.isEmpty()) {
            if (step == 0 || step % 60 != 0) {
                throw new WhenException(tokens.column(), "minutes such as :20 go with hours: 'every hour at :20'");
            }
            var rhythm = new Rhythm.Past(step / 60, past, between);
            if (rhythm.seconds().length == 0) {
                throw new WhenException(
                        betweenColumn, "no time of '" + rhythm.words() + "' lies in that part of the day");
            }
            return rhythm;
        }
        if (step > 0) {
            return new Rhythm.Steps(step, between);
        }
        if (between.isPresent()) {
            throw new WhenException(
                    betweenColumn, "a part of the day goes with steps: 'every 15 minutes between 06:00 and 22:00'");
        }
        if (minutes.isEmpty()) {
            throw new WhenException(
                    tokens.column(), "the phrase ends where 'at' and a time such as 02:30 are expected");
        }
        return new Rhythm.At(minutes);
    }

    private static void limit(int number, int most, Token first, Token unit) {
        if (number < 1 || number > most) {
            throw new WhenException(
                    first.column(), first.word() + " " + unit.word() + ": 1 to " + most + " would be right");
        }
    }

    static int number(Token token) {
        return token.number();
    }
}
