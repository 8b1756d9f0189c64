package org.gantrel.core.when;

import java.time.DateTimeException;
import java.time.DayOfWeek;
import java.time.LocalDate;
import java.time.Month;
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
                    Stream.of(DayOfWeek.values()).map(PhraseDays::lower))
            .toList();
    private static final List<String> MONTHS =
            Stream.of(Month.values()).map(PhraseDays::lower).toList();
    private static final List<String> UNITS =
            List.of("days", "weeks", "months", "quarters", "years", "minutes", "hours");
    private static final List<String> NOUNS = Stream.concat(
                    Stream.of("day", "weekday", "working"),
                    Stream.of(DayOfWeek.values()).map(PhraseDays::lower))
            .toList();
    private static final String A_DAY = "a day is expected: 'day', 'weekday', 'weekend' or a name such as 'Monday'";

    private final PhraseTokens tokens;
    private int weekdays;
    private boolean working;
    private int everyDays;
    private Period period;
    private int every = 1;
    private int months = PeriodDays.ALL_MONTHS;
    private final List<Item> items = new ArrayList<>();
    private DayShift shift = DayShift.NONE;
    private LocalDate once;

    PhraseDays(PhraseTokens tokens) {
        this.tokens = tokens;
    }

    void once(LocalDate date) {
        once = date;
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
                        || weekday(tokens.peek("")).isPresent())) {
            names();
            return true;
        }
        return beginsItem() && items();
    }

    private void on() {
        if (tokens.hasMore() && tokens.peek("").isDate()) {
            Token token = tokens.take("");
            try {
                once = LocalDate.parse(token.word());
            } catch (DateTimeException e) {
                throw new WhenException(token.column(), "'" + token.word() + "' is no day of the calendar");
            }
        } else if (tokens.skip("every", "each")) {
            Token token = tokens.peek(A_DAY);
            if (token.isNumber()) {
                tokens.take("");
                everyNth(PhraseReader.number(token), token);
            } else {
                every();
            }
        } else if (beginsItem()) {
            items();
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
        } else if (beginsItem() && !token.is("day")) {
            items();
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
        OptionalInt month = month(token);
        if (month.isEmpty()) {
            throw PhraseTokens.wrong(
                    token, "'every month', 'every quarter', 'every year' or the name of a month is expected", MONTHS);
        }
        int named = 1 << month.getAsInt();
        int mark = tokens.mark();
        while (tokens.skipSeparators()
                && tokens.hasMore()
                && month(tokens.peek("")).isPresent()) {
            named |= 1 << month(tokens.take("")).getAsInt();
            mark = tokens.mark();
        }
        tokens.back(mark);
        months = named;
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
        boolean weekday = tokens.hasMore() && weekday(tokens.peek("")).isPresent();
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
        OptionalInt weekday = weekday(token);
        if (weekday.isEmpty()) {
            throw PhraseTokens.wrong(token, A_DAY, DAYS);
        }
        return 1 << weekday.getAsInt();
    }

    private boolean beginsItem() {
        if (!tokens.hasMore()) {
            return false;
        }
        Token token = tokens.peek("");
        boolean shifted = token.isNumber() && tokens.secondIs("day", "days", "working");
        return shifted
                || token.is("the", "last", "day", "days", "easter", "nearest")
                || token.is("weekday") && tokens.secondIs("nearest")
                || Ordinals.place(token.word()).isPresent()
                || month(token).isPresent()
                || token.isNumber() && secondIsMonth();
    }

    private boolean secondIsMonth() {
        int mark = tokens.mark();
        tokens.take("");
        boolean found = tokens.hasMore() && month(tokens.peek("")).isPresent();
        tokens.back(mark);
        return found;
    }

    private boolean items() {
        if (tokens.hasMore() && tokens.peek("").isNumber() && tokens.secondIs("day", "days", "working")) {
            int head = tokens.mark();
            shift = shift();
            if (!shift.working() && shift.days() < 0 && endFollows()) {
                shift = DayShift.NONE;
                tokens.back(head);
            }
        }
        int mark;
        do {
            item();
            mark = tokens.mark();
        } while (tokens.skipSeparators()
                && (beginsItem() || tokens.hasMore() && tokens.peek("").isNumber()));
        tokens.back(mark);
        return true;
    }

    /** Whether the last day or the end comes next: days before that are an item of their own. */
    private boolean endFollows() {
        int mark = tokens.mark();
        tokens.skip("the");
        boolean end = tokens.nextIs("end") || tokens.nextIs("last") && tokens.secondIs("day");
        tokens.back(mark);
        return end;
    }

    private DayShift shift() {
        Token number = tokens.take("");
        boolean counted = tokens.skip("working");
        tokens.skip("day", "days");
        Token side = tokens.take("'before' or 'after'");
        if (!side.is("before", "after")) {
            throw PhraseTokens.wrong(side, "'before' or 'after' is expected", List.of("before", "after"));
        }
        int days = PhraseReader.number(number);
        if (days < 1 || days > DayShift.MOST) {
            throw new WhenException(number.column(), days + " days: 1 to " + DayShift.MOST + " would be right");
        }
        return new DayShift(side.is("before") ? -days : days, counted);
    }

    private void item() {
        tokens.skip("the");
        Token token = tokens.take("a day such as 'last Friday'");
        OptionalInt month = month(token);
        if (token.isNumber() && tokens.nextIs("day", "days")) {
            beforeLast(token);
        } else if (token.is("day", "days")) {
            tokens.skip("the");
            items.add(new Item.DayNumber(dayNumber(tokens.take("the number of a day"))));
        } else if (token.is("end")) {
            tokens.skip("of");
            tokens.skip("the");
            tokens.skip("month");
            items.add(new Item.BeforeLast(0));
        } else if (token.is("easter")) {
            tokens.skip("sunday");
            items.add(new Item.Easter());
        } else if (token.is("nearest") || token.is("weekday")) {
            nearest(token);
        } else if (month.isPresent()) {
            items.add(new Item.DayNumber(dayNumber(tokens.take("the number of a day"))));
            only(month.getAsInt(), token);
        } else if (token.isNumber()) {
            plainNumber(token);
        } else if (weekday(token).isPresent()) {
            items.add(new Item.Weekday(weekday(token).getAsInt()));
        } else {
            placed(token);
        }
    }

    /** A number goes on a list of days, "day 1, 15 and 20", or stands before a month, "25 December". */
    private void plainNumber(Token token) {
        items.add(new Item.DayNumber(dayNumber(token)));
        if (tokens.hasMore() && month(tokens.peek("")).isPresent()) {
            Token name = tokens.take("");
            only(month(name).orElseThrow(), name);
        }
    }

    private void only(int month, Token token) {
        if (months != PeriodDays.ALL_MONTHS && months != 1 << month) {
            throw new WhenException(
                    token.column(),
                    "'" + token.word() + "': days of one month alone go into one phrase; write two schedules");
        }
        months = 1 << month;
    }

    private void beforeLast(Token number) {
        tokens.take("");
        Token before = tokens.take("'before the last day'");
        tokens.skip("the");
        Token last = tokens.take("'last day'");
        if (!before.is("before") || !last.is("last", "end")) {
            throw PhraseTokens.wrong(before, "'before the last day' is expected in a list", List.of("before"));
        }
        if (last.is("end")) {
            tokens.skip("of");
            tokens.skip("the");
            tokens.skip("month");
        }
        tokens.skip("day");
        items.add(new Item.BeforeLast(PhraseReader.number(number)));
    }

    private void nearest(Token token) {
        if (token.is("weekday") && !tokens.skip("nearest")) {
            throw PhraseTokens.wrong(
                    token, "'weekday nearest to day 15' is a day; which weekday is meant here?", List.of());
        }
        tokens.skip("weekday");
        tokens.skip("to");
        tokens.skip("the");
        tokens.skip("day");
        items.add(new Item.Nearest(dayNumber(tokens.take("the number of a day"))));
    }

    /** "first Monday", "first and third Monday", "second last working day", "15th", "last day". */
    private void placed(Token first) {
        var places = new ArrayList<Integer>();
        places.add(place(first));
        int mark = tokens.mark();
        while (tokens.skipSeparators() && skipArticle() && tokens.hasMore() && isPlace(tokens.peek(""))) {
            places.add(place(tokens.take("")));
            mark = tokens.mark();
        }
        tokens.back(mark);
        if (tokens.nextIs("of", "in", "at")
                || !tokens.hasMore()
                || tokens.peek("").isSeparator()) {
            numbered(places, first);
            return;
        }
        Token noun = tokens.take("a day such as 'Friday'");
        if (noun.is("working")) {
            tokens.skip("day", "days");
            places.forEach(place -> items.add(new Item.NthWorking(place)));
        } else if (noun.is("weekday", "weekdays")) {
            places.forEach(place -> items.add(new Item.NthOfMondayToFriday(place)));
        } else if (noun.is("day", "days")) {
            numbered(places, first);
        } else if (month(noun).isPresent()) {
            numbered(places, first);
            only(month(noun).getAsInt(), noun);
        } else {
            int weekday = weekday(noun)
                    .orElseThrow(() -> PhraseTokens.wrong(
                            noun, "a name such as 'Friday', 'weekday', 'working day' or 'day' is expected", NOUNS));
            if (places.stream().anyMatch(place -> Math.abs(place) > 5)) {
                throw new WhenException(first.column(), "'" + first.word() + "': first to fifth, or last");
            }
            places.forEach(place -> items.add(new Item.Nth(place, weekday)));
        }
    }

    private void numbered(List<Integer> places, Token first) {
        for (int place : places) {
            if (Math.abs(place) > 366) {
                throw new WhenException(first.column(), "'" + first.word() + "' is no day");
            }
            items.add(place > 0 ? new Item.DayNumber(place) : new Item.BeforeLast(-1 - place));
        }
    }

    private boolean skipArticle() {
        tokens.skip("the");
        return true;
    }

    private boolean isPlace(Token token) {
        return token.is("last") || Ordinals.place(token.word()).isPresent();
    }

    private int place(Token token) {
        if (token.is("last")) {
            return -1;
        }
        int place = Ordinals.place(token.word())
                .orElseThrow(() ->
                        PhraseTokens.wrong(token, "a place such as 'first' or 'last' is expected", Ordinals.WORDS));
        if (tokens.skip("last")) {
            return -place;
        }
        return place;
    }

    private int dayNumber(Token token) {
        String digits = token.word().replaceAll("(st|nd|rd|th)$", "");
        if (!digits.matches("\\d{1,3}")) {
            throw PhraseTokens.wrong(token, "the number of a day is expected", List.of());
        }
        int number = Integer.parseInt(digits);
        if (number < 1 || number > 366) {
            throw new WhenException(token.column(), "day " + number + ": 1 to 31 would be right");
        }
        return number;
    }

    private void workingDay() {
        tokens.take("");
        tokens.skip("day", "days");
    }

    /** What was said, put together. */
    DayChoice choice(boolean steps) {
        int column = tokens.column();
        boolean named =
                weekdays != 0 || working || !items.isEmpty() || period != null || months != PeriodDays.ALL_MONTHS;
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
        if (items.isEmpty() && weekdays != 0 && period != null && period != Period.WEEK) {
            throw new WhenException(
                    column,
                    "the phrase does not say which of these days of the " + period.word()
                            + " is meant: 'the first Monday' or 'the last Friday' would");
        }
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
        return inPeriod(column);
    }

    private DayChoice inPeriod(int column) {
        boolean easter = items.stream().anyMatch(Item.Easter.class::isInstance);
        Period of = period != null ? period : easter ? Period.YEAR : Period.MONTH;
        if (months != PeriodDays.ALL_MONTHS && of == Period.YEAR && every == 1) {
            of = Period.MONTH;
        }
        if (months != PeriodDays.ALL_MONTHS && (of != Period.MONTH || every > 1)) {
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
        return new DayChoice.InPeriod(of, every, months, List.copyOf(items), shift);
    }

    private static OptionalInt weekday(Token token) {
        return named(
                token.word().replaceAll("s$", ""),
                Stream.of(DayOfWeek.values()).map(PhraseDays::lower).toList());
    }

    private static OptionalInt month(Token token) {
        return named(token.word(), MONTHS);
    }

    /** The place of a name in a list that a word of three letters or more begins. */
    private static OptionalInt named(String word, List<String> names) {
        return word.length() < 3
                ? OptionalInt.empty()
                : IntStream.range(0, names.size())
                        .filter(i -> names.get(i).startsWith(word)
                                || word.equals("sept") && names.get(i).startsWith("sept"))
                        .findFirst();
    }

    private static String lower(Enum<?> value) {
        return value.name().toLowerCase(Locale.ROOT);
    }
}
