package org.gantrel.core.when;

import java.time.DayOfWeek;
import java.time.Month;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.OptionalInt;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.gantrel.core.when.PhraseTokens.Token;

/** Reads days by their place: "first Monday", "day 1 and 15", "2 working days before the last Friday". */
final class PhraseItems {

    static final List<String> MONTHS =
            Stream.of(Month.values()).map(PhraseItems::lower).toList();
    private static final List<String> NOUNS = Stream.concat(
                    Stream.of("day", "weekday", "working"),
                    Stream.of(DayOfWeek.values()).map(PhraseItems::lower))
            .toList();

    private final PhraseTokens tokens;
    private final List<Item> items = new ArrayList<>();
    private int months = PeriodDays.ALL_MONTHS;

    private final boolean kept;

    PhraseItems(PhraseTokens tokens, boolean kept) {
        this.tokens = tokens;
        this.kept = kept;
    }

    List<Item> items() {
        return items;
    }

    /** The months that they are in; bit 0 is January. */
    int months() {
        return months;
    }

    /** Takes the months that were named; they are named once. */
    void months(int mask, int column) {
        if (months != PeriodDays.ALL_MONTHS && !kept) {
            throw new WhenException(
                    column, "the phrase names months twice: " + DayChoice.monthNames(months) + ", and these");
        }
        months = mask;
    }

    private void add(Item item, DayShift shift, Token token) {
        Item whole = shift.isNone() ? item : new Item.Shifted(shift, item);
        if (items.contains(whole) && !kept) {
            throw new WhenException(token.column(), "'" + whole.words() + "' is said twice");
        }
        items.add(whole);
    }

    /** Whether such a day comes next. */
    boolean begins() {
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

    /** Reads a list of such days. An offset holds for the day that it stands before and for those after it in the list. */
    boolean read() {
        DayShift shift = DayShift.NONE;
        int mark;
        do {
            if (tokens.hasMore() && tokens.peek("").isNumber() && tokens.secondIs("day", "days", "working")) {
                int head = tokens.mark();
                DayShift read = readShift();
                if (!read.working() && read.days() < 0 && endFollows()) {
                    tokens.back(head);
                    shift = DayShift.NONE;
                } else {
                    shift = read;
                }
            }
            item(shift);
            mark = tokens.mark();
        } while (tokens.skipSeparators()
                && (begins() || tokens.hasMore() && tokens.peek("").isNumber()));
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

    private DayShift readShift() {
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

    private void item(DayShift shift) {
        tokens.skip("the");
        Token token = tokens.take("a day such as 'last Friday'");
        OptionalInt month = month(token);
        if (token.isNumber() && tokens.nextIs("day", "days")) {
            beforeLast(token, shift);
        } else if (token.is("day", "days")) {
            tokens.skip("the");
            add(new Item.DayNumber(dayNumber(tokens.take("the number of a day"))), shift, token);
        } else if (token.is("end")) {
            endOf();
            add(new Item.BeforeLast(0), shift, token);
        } else if (token.is("easter")) {
            tokens.skip("sunday");
            add(new Item.Easter(), shift, token);
        } else if (token.is("nearest") || token.is("weekday")) {
            nearest(token, shift);
        } else if (month.isPresent()) {
            add(new Item.DayNumber(dayNumber(tokens.take("the number of a day"))), shift, token);
            only(month.getAsInt(), token);
        } else if (token.isNumber()) {
            plainNumber(token, shift);
        } else if (weekday(token).isPresent()) {
            add(new Item.Weekday(weekday(token).getAsInt()), shift, token);
        } else {
            placed(token, shift);
        }
    }

    /** "of the month" after "end", unless a month or another period follows. */
    private void endOf() {
        int mark = tokens.mark();
        tokens.skip("of");
        tokens.skip("the");
        if (!tokens.skip("month")) {
            tokens.back(mark);
        }
    }

    /** A number goes on a list of days, "day 1, 15 and 20", or stands before a month, "25 December". */
    private void plainNumber(Token token, DayShift shift) {
        add(new Item.DayNumber(dayNumber(token)), shift, token);
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

    private void beforeLast(Token number, DayShift shift) {
        tokens.take("");
        Token before = tokens.take("'before the last day'");
        tokens.skip("the");
        Token last = tokens.take("'last day'");
        if (!before.is("before") || !last.is("last", "end")) {
            throw PhraseTokens.wrong(before, "'before the last day' is expected in a list", List.of("before"));
        }
        if (last.is("end")) {
            endOf();
        } else if (!tokens.skip("day")) {
            throw new WhenException(tokens.column(), "'day' is expected: days are counted back from the last day");
        }
        add(new Item.BeforeLast(PhraseReader.number(number)), shift, number);
    }

    private void nearest(Token token, DayShift shift) {
        if (!tokens.skip(token.is("weekday") ? "nearest" : "weekday")) {
            throw PhraseTokens.wrong(
                    token, "'weekday nearest to day 15' is a day; which weekday is meant here?", List.of());
        }
        tokens.skip("to");
        tokens.skip("the");
        tokens.skip("day");
        add(new Item.Nearest(dayNumber(tokens.take("the number of a day"))), shift, token);
    }

    /** "first Monday", "first and third Monday", "second last working day", "15th", "last day". */
    private void placed(Token first, DayShift shift) {
        var places = new ArrayList<Integer>();
        places.add(place(first));
        int mark = tokens.mark();
        while (tokens.skipSeparators() && skipArticle() && tokens.hasMore() && isPlace(tokens.peek(""))) {
            places.add(place(tokens.take("")));
            mark = tokens.mark();
        }
        tokens.back(mark);
        if (tokens.nextIs("of", "in", "at", "from", "until")
                || !tokens.hasMore()
                || tokens.peek("").isSeparator()
                || tokens.peek("").isTime()) {
            numbered(places, first, shift);
            return;
        }
        Token noun = tokens.take("a day such as 'Friday'");
        if (noun.is("working")) {
            tokens.skip("day", "days");
            places.forEach(place -> add(new Item.NthWorking(place), shift, first));
        } else if (noun.is("weekday", "weekdays")) {
            places.forEach(place -> add(new Item.NthOfMondayToFriday(place), shift, first));
        } else if (noun.is("day", "days")) {
            numbered(places, first, shift);
        } else if (month(noun).isPresent()) {
            numbered(places, first, shift);
            only(month(noun).getAsInt(), noun);
        } else {
            int weekday = weekday(noun)
                    .orElseThrow(() -> PhraseTokens.wrong(
                            noun, "a name such as 'Friday', 'weekday', 'working day' or 'day' is expected", NOUNS));
            if (places.stream().anyMatch(place -> Math.abs(place) > 5)) {
                throw new WhenException(first.column(), "'" + first.word() + "': first to fifth, or last");
            }
            places.forEach(place -> add(new Item.Nth(place, weekday), shift, first));
        }
    }

    private void numbered(List<Integer> places, Token first, DayShift shift) {
        for (int place : places) {
            if (Math.abs(place) > 366) {
                throw new WhenException(first.column(), "'" + first.word() + "' is no day");
            }
            add(place > 0 ? new Item.DayNumber(place) : new Item.BeforeLast(-1 - place), shift, first);
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

    /** The weekday of a name, Monday being 0. */
    static OptionalInt weekday(Token token) {
        return named(
                token.word().replaceAll("s$", ""),
                Stream.of(DayOfWeek.values()).map(PhraseItems::lower).toList());
    }

    /** The month of a name, January being 0. */
    static OptionalInt month(Token token) {
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

    static String lower(Enum<?> value) {
        return value.name().toLowerCase(Locale.ROOT);
    }
}
