package org.gantrel.core.when;

import java.time.DayOfWeek;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.gantrel.core.when.PhraseTokens.Token;

/** Reads those clauses of a phrase that say on which days. */
final class PhraseDays {

    private static final List<String> DAYS = Stream.concat(
                    Stream.of("day", "weekday", "weekend"),
                    Stream.of(DayOfWeek.values()).map(PhraseItems::lower))
            .toList();
    private static final List<String> UNITS =
            List.of("days", "weeks", "months", "quarters", "years", "minutes", "hours");
    private static final String A_DAY = "a day is expected: 'day', 'weekday', 'weekend' or a name such as 'Monday'";

    private final PhraseTokens tokens;
    private int weekdays;
    private boolean working;
    private int everyDays;
    private Period period;
    private int every = 1;
    private final PhraseItems places;
    private LocalDate once;
    /** Whether days are named already, so that more of them have to be joined by a comma or "and". */
    private boolean named;

    private final boolean kept;

    PhraseDays(PhraseTokens tokens, boolean kept) {
        this.kept = kept;
        this.tokens = tokens;
        this.places = new PhraseItems(tokens, kept);
    }

    /** One day by its date. */
    void date() {
        int column = tokens.column();
        LocalDate date = tokens.date();
        if (once != null && !kept) {
            throw new WhenException(column, "one day alone goes into one phrase; write two schedules");
        }
        once = date;
    }

    /** Days of the week; each of them has to add something. */
    void weekly(int mask, Token token) {
        if ((weekdays & mask) != 0 && !kept) {
            throw twice(token);
        }
        weekdays |= mask;
        named = true;
    }

    private static WhenException twice(Token token) {
        return new WhenException(
                token.column(), "'" + token.word() + "': the phrase says twice on which days; one of them would do");
    }

    void period(Period of, int n, int column) {
        if (period != null && !(kept && period == of && every == n)) {
            throw new WhenException(
                    column,
                    period == of && every == n
                            ? "every " + of.word() + " is said twice"
                            : "the phrase speaks of every " + period.word() + " and of every " + of.word());
        }
        period = of;
        every = n;
    }

    /**
     * Reads "on ...", "of ...", "in ..." or days by their place; says whether one of these comes next.
     *
     * @param joined whether a comma or "and" stands before it
     */
    boolean clause(boolean joined) {
        if (tokens.nextIs("on")) {
            tokens.take("");
            added(joined);
            on();
            return true;
        }
        if (tokens.skip("of", "in", "during")) {
            of();
            return true;
        }
        if (tokens.hasMore()
                && !tokens.secondIs("nearest")
                && (tokens.nextIs("weekdays", "weekends")
                        || PhraseItems.weekday(tokens.peek("")).isPresent())) {
            added(joined);
            names();
            return true;
        }
        return places.begins() && added(joined) && placesRead();
    }

    private boolean placesRead() {
        named = true;
        return places.read();
    }

    /** Days that come after others are joined to them in words; otherwise the one or the other would be meant. */
    boolean added(boolean joined) {
        if (named && !joined && !kept) {
            throw twice(tokens.peek("a day"));
        }
        return true;
    }

    private void on() {
        if (tokens.hasMore() && tokens.peek("").isDate()) {
            date();
        } else if (tokens.skip("every", "each")) {
            every();
        } else if (places.begins()) {
            placesRead();
        } else {
            names();
        }
    }

    /** What follows "every" and is no step of minutes or hours. */
    void every() {
        Token token = tokens.peek(A_DAY);
        if (token.is("week", "month", "quarter", "year")) {
            tokens.take("");
            period(Period.valueOf(token.word().toUpperCase(Locale.ROOT)), 1, token.column());
        } else if (token.isNumber() || token.is("other") || countsOn()) {
            everyNth();
        } else if (places.begins() && !token.is("day")) {
            placesRead();
        } else {
            names();
        }
    }

    /** Whether "second Monday" after "every" means every other Monday: it does unless a month or the like follows. */
    private boolean countsOn() {
        Token first = tokens.peek(A_DAY);
        Optional<Integer> place = Ordinals.place(first.word());
        if (kept || place.isEmpty() || place.get() < 2 || tokens.secondIs("last", "and", ",")) {
            return false;
        }
        int mark = tokens.mark();
        tokens.take("");
        boolean counts = false;
        if (tokens.hasMore()) {
            Token noun = tokens.take("");
            boolean unit = noun.is("day", "week", "month", "quarter", "year");
            boolean name = PhraseItems.weekday(noun).isPresent() || noun.is("weekday", "working");
            tokens.skip("day");
            counts = (unit || name) && !tokens.nextIs("of", "in");
            if (counts && noun.is("weekday", "working")) {
                throw new WhenException(
                        first.column(),
                        "'every " + first.word() + " " + noun.word() + (noun.is("working") ? " day" : "")
                                + "': of which period? '" + first.word() + " " + noun.word()
                                + (noun.is("working") ? " day" : "") + " of every month' would say it");
            }
        }
        tokens.back(mark);
        return counts;
    }

    private void everyNth() {
        Token first = tokens.take("");
        everyNth(
                first.is("other")
                        ? 2
                        : Ordinals.place(first.word()).orElseGet(() -> first.isNumber() ? first.number() : 1),
                first);
    }

    /** "every 3 weeks" and the like; the number is read already. */
    void everyNth(int number, Token first) {
        if (tokens.hasMore() && PhraseItems.weekday(tokens.peek("")).isPresent()) {
            period(Period.WEEK, number, first.column());
            names();
            return;
        }
        Token unit = tokens.take("a unit such as 'weeks'");
        int most;
        switch (unit.word()) {
            case "day", "days" -> most = 366;
            case "week", "weeks" -> most = 104;
            case "month", "months" -> most = 48;
            case "quarter", "quarters" -> most = 16;
            case "year", "years" -> most = 20;
            default ->
                throw PhraseTokens.wrong(
                        unit, "'minutes', 'hours', 'days', 'weeks', 'months' or 'years' is expected", UNITS);
        }
        if (number < 1 || number > most) {
            throw new WhenException(
                    first.column(), first.word() + " " + unit.word() + ": 1 to " + most + " would be right");
        }
        if (unit.is("day", "days")) {
            if (everyDays > 0 && !kept) {
                throw twice(first);
            }
            everyDays = number;
        } else {
            period(Period.valueOf(unit.word().replaceAll("s$", "").toUpperCase(Locale.ROOT)), number, first.column());
        }
    }

    private void of() {
        tokens.skip("the");
        if (tokens.skip("every", "each", "a")) {
            if (tokens.peek("'month'").isNumber() || tokens.nextIs("other")) {
                everyNth();
                return;
            }
        }
        Token token = tokens.take("'every month' or the name of a month");
        if (token.is("week", "month", "quarter", "year")) {
            period(Period.valueOf(token.word().toUpperCase(Locale.ROOT)), 1, token.column());
            return;
        }
        OptionalInt month = PhraseItems.month(token);
        if (month.isEmpty()) {
            throw PhraseTokens.wrong(
                    token,
                    "'every month', 'every quarter', 'every year' or the name of a month is expected",
                    PhraseItems.MONTHS);
        }
        int months = 1 << month.getAsInt();
        int mark = tokens.mark();
        while (tokens.skipSeparators()
                && tokens.hasMore()
                && PhraseItems.month(tokens.peek("")).isPresent()) {
            Token next = tokens.take("");
            int more = 1 << PhraseItems.month(next).getAsInt();
            if ((months & more) != 0 && !kept) {
                throw new WhenException(next.column(), "'" + next.word() + "' is said twice");
            }
            months |= more;
            mark = tokens.mark();
        }
        tokens.back(mark);
        places.months(months, token.column());
    }

    private void names() {
        do {
            Token token = tokens.take("a day");
            if (token.is("working")) {
                if (!tokens.skip("day", "days") && !kept) {
                    throw new WhenException(tokens.column(), "'day' is expected after 'working'");
                }
                if (working && !kept) {
                    throw twice(token);
                }
                working = true;
                named = true;
                continue;
            }
            int first = dayMask(token);
            if (tokens.nextIs("to", "through", "until") && Integer.bitCount(first) == 1 && isWeekdayAfterNext()) {
                tokens.take("");
                Token end = tokens.take("a day");
                int last = Integer.numberOfTrailingZeros(dayMask(end));
                int from = Integer.numberOfTrailingZeros(first);
                int length = Math.floorMod(last - from, 7);
                weekly(
                        IntStream.rangeClosed(0, length)
                                .map(i -> 1 << (from + i) % 7)
                                .reduce(0, (a, b) -> a | b),
                        token);
            } else {
                weekly(first, token);
            }
        } while (separatedName());
    }

    private boolean isWeekdayAfterNext() {
        int mark = tokens.mark();
        tokens.take("");
        boolean weekday =
                tokens.hasMore() && PhraseItems.weekday(tokens.peek("")).isPresent();
        tokens.back(mark);
        return weekday;
    }

    /** Goes past a comma or "and" where another name of a day follows it, or something that was meant for one. */
    private boolean separatedName() {
        int mark = tokens.mark();
        if (tokens.skipSeparators()
                && tokens.hasMore()
                && tokens.peek("").word().matches("[a-z]+")
                && !tokens.peek("").isTime()
                && !(tokens.nextIs("day", "days") && tokens.secondIsNumber())
                && !tokens.nextIs("at", "from", "until", "in", "of", "every", "between", "on")) {
            return true;
        }
        tokens.back(mark);
        return false;
    }

    private int dayMask(Token token) {
        if (token.is("day")) {
            return Weekdays.ALL;
        }
        if (token.is("weekday", "weekdays")) {
            return 0b0011111;
        }
        if (token.is("weekend", "weekends")) {
            tokens.skip("day", "days");
            return 0b1100000;
        }
        OptionalInt weekday = PhraseItems.weekday(token);
        if (weekday.isEmpty()) {
            throw PhraseTokens.wrong(token, A_DAY, DAYS);
        }
        return 1 << weekday.getAsInt();
    }

    private void refuseTwoWays(int column) {
        boolean others = weekdays != 0
                || working
                || !places.items().isEmpty()
                || period != null
                || places.months() != PeriodDays.ALL_MONTHS;
        if ((once != null || everyDays > 0) && others || once != null && everyDays > 0) {
            throw new WhenException(
                    column,
                    "the phrase says twice on which days: " + (once != null ? once : "every " + everyDays + " days")
                            + ", and others");
        }
    }

    /** What was said, put together. */
    DayChoice choice(boolean steps, String times) {
        int column = tokens.column();
        refuseTwoWays(column);
        if (once != null) {
            return new DayChoice.Once(once);
        }
        if (everyDays > 0) {
            return everyDays == 1 ? DayChoice.EVERY_DAY : new DayChoice.EveryDays(everyDays);
        }
        if (places.items().isEmpty() && weekdays != 0 && period != null && period != Period.WEEK) {
            throw new WhenException(
                    column,
                    "the phrase does not say which of these days of the " + period.word()
                            + " is meant: 'the first Monday' or 'the last Friday' would");
        }
        List<Item> items = new ArrayList<>(places.items());
        int months = places.months();
        boolean onlyWeekdays = items.stream().allMatch(Item.Weekday.class::isInstance);
        if (onlyWeekdays && (every == 1 || period != Period.WEEK)) {
            items.forEach(item -> weekdays |= 1 << ((Item.Weekday) item).weekday());
            items.clear();
        }
        if (kept && !items.isEmpty()) {
            working = false;
        }
        if (working && !kept && (!items.isEmpty() || period != null)) {
            throw new WhenException(
                    column,
                    "the phrase speaks of every working day and of "
                            + (items.isEmpty()
                                    ? "every " + period.word()
                                    : items.get(0).words())
                            + "; write two schedules, or a place such as 'first working day'");
        }
        if (working) {
            return new DayChoice.Working(months, kept ? 0 : weekdays);
        }
        if (items.isEmpty() && weekdays != 0 && (period == null || every == 1)) {
            return new DayChoice.Weekly(weekdays, months);
        }
        if (items.isEmpty() && weekdays == 0) {
            if (period == null && steps) {
                return new DayChoice.Weekly(Weekdays.ALL, months);
            }
            throw noDays(column, times);
        }
        for (int day = 0; day < 7; day++) {
            if ((weekdays >>> day & 1) == 1) {
                items.add(new Item.Weekday(day));
            }
        }
        return inPeriod(column, items);
    }

    private WhenException noDays(int column, String times) {
        return new WhenException(
                column,
                period == null
                        ? "the phrase does not say on which days: 'every day" + times + "' or 'every Monday" + times
                                + "' would"
                        : "the phrase does not say on which day of the " + period.word() + ": "
                                + (period == Period.WEEK ? "'on Monday'" : "'on day 1' or 'on the last Friday'")
                                + " would");
    }

    private DayChoice inPeriod(int column, List<Item> items) {
        int months = places.months();
        boolean easter = items.stream().map(Item::unshifted).anyMatch(Item.Easter.class::isInstance);
        Period of = period != null ? period : easter ? Period.YEAR : Period.MONTH;
        if (places.months() != PeriodDays.ALL_MONTHS && of == Period.YEAR && every == 1) {
            of = Period.MONTH;
        }
        if (places.months() != PeriodDays.ALL_MONTHS && (of != Period.MONTH || every > 1)) {
            throw new WhenException(column, "months by name go with 'every month' only");
        }
        for (Item shifted : items) {
            Item item = shifted.unshifted();
            boolean fits = item instanceof Item.Weekday
                    ? of == Period.WEEK
                    : of != Period.WEEK || item instanceof Item.NthWorking || item instanceof Item.NthOfMondayToFriday;
            if (!fits || item instanceof Item.Easter && of != Period.YEAR) {
                throw new WhenException(column, "'" + item.words() + "' is no day of a " + of.word());
            }
            int most = of == Period.MONTH ? 31 : of == Period.QUARTER ? 92 : 366;
            if (item instanceof Item.DayNumber day && day.number() > most
                    || item instanceof Item.BeforeLast last && last.days() >= most) {
                throw new WhenException(
                        column, "'" + item.words() + "': a " + of.word() + " has at most " + most + " days");
            }
        }
        return new DayChoice.InPeriod(of, every, months, items);
    }
}
