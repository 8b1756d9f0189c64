package org.gantrel.core.when;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Reads a crontab expression (POSIX.1-2017, crontab) with a sixth field for the year and {@code L}, {@code W}, {@code #}. */
final class CronReader {

    private static final Pattern WORD = Pattern.compile("\\S+");
    private static final Pattern LAST_DAY = Pattern.compile("[lL](?:-(\\d{1,2}))?");
    private static final Pattern LAST_WORKDAY = Pattern.compile("(?i)lw");
    private static final Pattern NEAREST_WORKDAY = Pattern.compile("(\\d{1,2})[wW]");
    private static final Pattern LAST_WEEKDAY = Pattern.compile("(\\w+)[lL]");
    private static final Pattern NTH_WEEKDAY = Pattern.compile("(\\w+)#(\\w*)");

    private record Part(String text, int column) {}

    private CronReader() {}

    static Cron read(String text) {
        List<Part> parts = parts(text);
        if (parts.size() < 5 || parts.size() > 6) {
            throw new WhenException(
                    parts.size() < 5
                            ? text.stripTrailing().length() + 1
                            : parts.get(6).column(),
                    "a cron expression has five fields (minute, hour, day, month, weekday) and may have a sixth, the"
                            + " year; here are " + parts.size());
        }
        BitSet minutes = numbers(CronField.MINUTE, parts.get(0));
        BitSet hours = numbers(CronField.HOUR, parts.get(1));
        DayRule days = days(parts.get(2), parts.get(4));
        BitSet months = numbers(CronField.MONTH, parts.get(3));
        BitSet years = parts.size() == 6 ? numbers(CronField.YEAR, parts.get(5)) : all(CronField.YEAR);
        return new Cron(text.strip(), minutes, hours, days, months, years);
    }

    private static List<Part> parts(String text) {
        var parts = new ArrayList<Part>();
        Matcher words = WORD.matcher(text);
        while (words.find()) {
            parts.add(new Part(words.group(), words.start() + 1));
        }
        return parts;
    }

    private static DayRule days(Part day, Part weekday) {
        var dates = new ArrayList<DayRule>();
        var weekdays = new ArrayList<DayRule>();
        BitSet plainDates = new BitSet();
        BitSet plainWeekdays = new BitSet();
        for (Part piece : pieces(day)) {
            DayRule special = specialDate(piece);
            if (special == null) {
                plainDates.or(numbers(CronField.DAY, piece));
            } else {
                dates.add(special);
            }
        }
        for (Part piece : pieces(weekday)) {
            DayRule special = specialWeekday(piece);
            if (special == null) {
                plainWeekdays.or(numbers(CronField.WEEKDAY, piece));
            } else {
                weekdays.add(special);
            }
        }
        if (!plainDates.isEmpty()) {
            dates.add(new DayRule.Dates(plainDates));
        }
        if (plainWeekdays.get(7)) {
            plainWeekdays.clear(7);
            plainWeekdays.set(0);
        }
        if (!plainWeekdays.isEmpty()) {
            weekdays.add(new DayRule.Weekdays(plainWeekdays));
        }
        return either(open(day) ? List.of() : dates, open(weekday) ? List.of() : weekdays);
    }

    /** POSIX: where day and weekday are both restricted, a day that matches either will do. */
    private static DayRule either(List<DayRule> dates, List<DayRule> weekdays) {
        var rules = new ArrayList<>(dates);
        rules.addAll(weekdays);
        return rules.isEmpty() ? DayRule.EVERY : rules.size() == 1 ? rules.get(0) : new DayRule.AnyOf(rules);
    }

    private static boolean open(Part field) {
        return field.text().equals("*") || field.text().equals("?");
    }

    private static DayRule specialDate(Part piece) {
        Matcher last = LAST_DAY.matcher(piece.text());
        if (last.matches()) {
            int before = last.group(1) == null ? 0 : Integer.parseInt(last.group(1));
            if (before > 30) {
                throw new WhenException(piece.column() + 2, "L-" + before + ": at most 30 days before the last");
            }
            return new DayRule.LastDay(before);
        }
        if (LAST_WORKDAY.matcher(piece.text()).matches()) {
            return new DayRule.LastWorkday();
        }
        Matcher nearest = NEAREST_WORKDAY.matcher(piece.text());
        if (nearest.matches()) {
            return new DayRule.NearestWorkday(CronField.DAY.value(nearest.group(1), piece.column()));
        }
        return null;
    }

    private static DayRule specialWeekday(Part piece) {
        Matcher nth = NTH_WEEKDAY.matcher(piece.text());
        if (nth.matches()) {
            int weekday = CronField.WEEKDAY.value(nth.group(1), piece.column()) % 7;
            if (!nth.group(2).matches("[1-5]")) {
                throw new WhenException(
                        piece.column() + nth.start(2), "'#" + nth.group(2) + "': #1 to #5, the first to the fifth");
            }
            return new DayRule.NthWeekday(weekday, Integer.parseInt(nth.group(2)));
        }
        if (piece.text().equalsIgnoreCase("L")) {
            throw new WhenException(piece.column(), "L needs its weekday here, such as 5L for the last Friday");
        }
        Matcher last = LAST_WEEKDAY.matcher(piece.text());
        if (last.matches() && !CronField.WEEKDAY.names.containsKey(piece.text().toLowerCase(java.util.Locale.ROOT))) {
            return new DayRule.LastWeekday(CronField.WEEKDAY.value(last.group(1), piece.column()) % 7);
        }
        return null;
    }

    private static List<Part> pieces(Part field) {
        var pieces = new ArrayList<Part>();
        int at = 0;
        for (String piece : field.text().split(",", -1)) {
            pieces.add(new Part(piece, field.column() + at));
            at += piece.length() + 1;
        }
        return pieces;
    }

    private static BitSet numbers(CronField field, Part part) {
        BitSet numbers = new BitSet();
        for (Part piece : pieces(part)) {
            addRange(field, piece, numbers);
        }
        return numbers;
    }

    private static void addRange(CronField field, Part piece, BitSet numbers) {
        String[] stepped = piece.text().split("/", -1);
        int step = stepped.length == 1 ? 1 : step(field, piece, stepped);
        String range = stepped[0];
        int from;
        int to;
        if (range.equals("*") || range.equals("?")) {
            from = field.least;
            to = field == CronField.WEEKDAY ? 6 : field.most;
        } else {
            int dash = range.indexOf('-');
            from = field.value(dash < 0 ? range : range.substring(0, dash), piece.column());
            to = dash < 0
                    ? (stepped.length == 1 ? from : field.most)
                    : field.value(range.substring(dash + 1), piece.column() + dash + 1);
            if (field == CronField.WEEKDAY && dash >= 0 && to == 0) {
                to = 7;
            }
        }
        if (to < from) {
            throw new WhenException(
                    piece.column(),
                    "the " + field.title + " range " + range + " runs backwards; write it as two ranges");
        }
        for (int number = from; number <= to; number += step) {
            numbers.set(number);
        }
    }

    private static int step(CronField field, Part piece, String[] stepped) {
        int column = piece.column() + stepped[0].length() + 1;
        if (stepped.length > 2) {
            throw new WhenException(column, "only one step is possible in " + field.title + " '" + piece.text() + "'");
        }
        if (!stepped[1].matches("\\d{1,3}") || Integer.parseInt(stepped[1]) == 0) {
            throw new WhenException(column, field.title + " step '" + stepped[1] + "': a number from 1 on");
        }
        return Integer.parseInt(stepped[1]);
    }

    private static BitSet all(CronField field) {
        BitSet numbers = new BitSet();
        numbers.set(field.least, field.most + 1);
        return numbers;
    }
}
