package org.gantrel.core.when;

import java.time.DayOfWeek;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
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

    PhraseDays(PhraseTokens tokens) {
        this.tokens = tokens;
        this.places = new PhraseItems(tokens);
    }

    void once(LocalDate date) {
        once = date;
    }

    /** One day by its date. */
    void date() {
        once = tokens.date();
    }

    void weekly(int mask) {
        weekdays |= mask;
    }

    void period(Period of, int n) {
        if (period != null && (period != of || every != n)) {
            throw new WhenException(
                    tokens.column(), "the phrase speaks of every " + period.word() + " and of every " + of.word());
        }
        period = of;
        every = n;
    }

    /** Reads "on ...", "of ...", "in ..." or days by their place; says whether one of these comes next. */
    boolean clause() {
        if (tokens.skip("on")) {
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
            names();
            return true;
        }
        return places.begins() && places.read();
    }

    private void on() {
        if (tokens.hasMore() && tokens.peek("").isDate()) {
            once = tokens.date();
        } else if (tokens.skip("every", "each")) {
            Token token = tokens.peek(A_DAY);
            if (token.isNumber()) {
                tokens.take("");
                everyNth(PhraseReader.number(token), token);
            } else {
                every();
            }
        } else if (places.begins()) {
            places.read();
        } else {
            names();
        }
    }

    /** What follows "every" and is no step of minutes or hours. */
    void every() {
        Token token = tokens.peek("a day");
        if (token.is("week", "month", "quarter", "year")) {
            tokens.take("");
            period(Period.valueOf(token.word().toUpperCase(Locale.ROOT)), 1);
        } else if (token.is("working")) {
            workingDay();
            working = true;
        } else if (places.begins() && !token.is("day")) {
            places.read();
        } else {
            names();
        }
    }

    /** "every 3 weeks" and the like; the number is read already. */
    void everyNth(int number, Token first) {
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
            everyDays = number;
        } else {
            period(Period.valueOf(unit.word().replaceAll("s$", "").toUpperCase(Locale.ROOT)), number);
        }
    }

    private void of() {
        tokens.skip("the");
        if (tokens.skip("every", "each", "a")) {
            Token token = tokens.peek("'month'");
            if (token.isNumber()) {
                tokens.take("");
                everyNth(PhraseReader.number(token), token);
                return;
            }
        }
        Token token = tokens.take("'every month' or the name of a month");
        if (token.is("week", "month", "quarter", "year")) {
            period(Period.valueOf(token.word().toUpperCase(Locale.ROOT)), 1);
            return;
        }
        OptionalInt month = PhraseItems.month(token);
        if (month.isEmpty()) {
            throw PhraseTokens.wrong(
                    token,
                    "'every month', 'every quarter', 'every year' or the name of a month is expected",
                    PhraseItems.MONTHS);
        }
        int named = 1 << month.getAsInt();
        int mark = tokens.mark();
        while (tokens.skipSeparators()
                && tokens.hasMore()
                && PhraseItems.month(tokens.peek("")).isPresent()) {
            named |= 1 << PhraseItems.month(tokens.take("")).getAsInt();
            mark = tokens.mark();
        }
        tokens.back(mark);
        places.months(named);
    }

    private void names() {
        do {
            Token token = tokens.take("a day");
            if (token.is("working")) {
                tokens.skip("day", "days");
                working = true;
                continue;
            }
            int first = dayMask(token);
            if (tokens.nextIs("to", "through", "until") && Integer.bitCount(first) == 1 && isWeekdayAfterNext()) {
                tokens.take("");
                Token end = tokens.take("a day");
                int last = Integer.numberOfTrailingZeros(dayMask(end));
                int from = Integer.numberOfTrailingZeros(first);
                int length = Math.floorMod(last - from, 7);
                weekdays |= IntStream.rangeClosed(0, length)
                        .map(i -> 1 << (from + i) % 7)
                        .reduce(0, (a, b) -> a | b);
            } else {
                weekdays |= first;
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

    private void workingDay() {
        tokens.take("");
        tokens.skip("day", "days");
    }

    /** What was said, put together. */
    DayChoice choice(boolean steps) {
        int column = tokens.column();
        boolean named = weekdays != 0
                || working
                || !places.items().isEmpty()
                || period != null
                || places.months() != PeriodDays.ALL_MONTHS;
        if ((once != null || everyDays > 0) && named || once != null && everyDays > 0) {
            throw new WhenException(
                    column,
                    "the phrase says twice on which days: " + (once != null ? once : "every " + everyDays + " days")
                            + ", and others");
        }
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
        DayShift shift = places.shift();
        int months = places.months();
        boolean onlyWeekdays = items.stream().allMatch(Item.Weekday.class::isInstance);
        if (onlyWeekdays && shift.isNone() && (every == 1 || period != Period.WEEK)) {
            items.forEach(item -> weekdays |= 1 << ((Item.Weekday) item).weekday());
            items.clear();
        }
        if (working && items.isEmpty()) {
            return new DayChoice.Working(months);
        }
        if (items.isEmpty() && weekdays != 0 && (period == null || every == 1)) {
            return new DayChoice.Weekly(weekdays, months);
        }
        if (items.isEmpty() && weekdays == 0) {
            if (period == null && steps) {
                return new DayChoice.Weekly(Weekdays.ALL, months);
            }
            throw new WhenException(
                    column,
                    period == null
                            ? "the phrase does not say on which days: 'every day' or 'every Monday' would"
                            : "the phrase does not say on which day of the " + period.word() + ": "
                                    + (period == Period.WEEK ? "'on Monday'" : "'on day 1' or 'on the last Friday'")
                                    + " would");
        }
        for (int day = 0; day < 7; day++) {
            if ((weekdays >>> day & 1) == 1) {
                items.add(new Item.Weekday(day));
            }
        }
        return inPeriod(column, items);
    }

    private DayChoice inPeriod(int column, List<Item> items) {
        int months = places.months();
        boolean easter = items.stream().anyMatch(Item.Easter.class::isInstance);
        Period of = period != null ? period : easter ? Period.YEAR : Period.MONTH;
        if (places.months() != PeriodDays.ALL_MONTHS && of == Period.YEAR && every == 1) {
            of = Period.MONTH;
        }
        if (places.months() != PeriodDays.ALL_MONTHS && (of != Period.MONTH || every > 1)) {
            throw new WhenException(column, "months by name go with 'every month' only");
        }
        for (Item item : items) {
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
        return new DayChoice.InPeriod(of, every, months, List.copyOf(items), places.shift());
    }
}
