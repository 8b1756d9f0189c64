package org.gantrel.core.when;

import java.time.LocalDate;
import java.time.Year;
import java.util.BitSet;
import java.util.List;
import java.util.concurrent.atomic.AtomicReferenceArray;
import java.util.stream.LongStream;
import org.gantrel.core.when.RuleParts.Frequency;
import org.gantrel.core.when.RuleParts.NumberedDay;

/**
 * Decides which days of a period a rule means, by the table of RFC 5545, 3.3.10: every part that is given must agree.
 * What a rule does not say comes from its start.
 */
final class RuleYear {

    /** The Gregorian calendar repeats after so many days; a search that came round once need not go on. */
    static final int CYCLE_DAYS = 146_097;

    /** Nothing is looked for after this year. */
    private static final int LAST_YEAR = 9_999;

    private static final int CYCLE_YEARS = 400;
    private static final int KINDS = 7 * 2 * 2 * 2;

    private final RuleParts parts;
    private final LocalDate start;
    /**
     * The days that are meant, by the kind of the year: which days a rule means depends on the weekday that a year begins
     * with, and on whether it and its neighbours are leap years, since weeks reach into those.
     */
    private final AtomicReferenceArray<BitSet> kinds = new AtomicReferenceArray<>(KINDS);

    /** The year that was asked for last; rules are mostly asked for one day after the other. */
    private volatile Known latest = new Known(0, 0, new BitSet());

    private record Known(long first, int length, BitSet days) {}

    RuleYear(RuleParts parts, LocalDate start) {
        this.parts = parts;
        this.start = start;
    }

    /** The first day from the given one on that is meant; {@link DaySet#NEVER} where the calendar has none in its whole round. */
    long next(long day) {
        Known known = latest;
        if (day >= known.first && day < known.first + known.length) {
            int found = known.days.nextSetBit((int) (day - known.first));
            if (found >= 0) {
                return known.first + found;
            }
        }
        LocalDate date = LocalDate.ofEpochDay(day);
        int from = date.getDayOfYear() - 1;
        int last = Math.min(LAST_YEAR, date.getYear() + CYCLE_YEARS);
        for (int year = date.getYear(); year <= last; year++) {
            int found = ofYear(year).nextSetBit(from);
            if (found >= 0) {
                return year == date.getYear()
                        ? day + found - from
                        : LocalDate.ofYearDay(year, 1).toEpochDay() + found;
            }
            from = 0;
        }
        return DaySet.NEVER;
    }

    /** The days of a period, in order. */
    long[] days(long first, long last) {
        var days = LongStream.builder();
        for (long day = next(first); day <= last; day = next(day + 1)) {
            days.add(day);
        }
        return days.build().toArray();
    }

    /** How many days of a period are meant. */
    int count(long first, long last) {
        int found = 0;
        for (long day = next(first); day <= last; day = next(day + 1)) {
            found++;
        }
        return found;
    }

    /** Whether one day is meant. */
    boolean holds(long day) {
        Known known = latest;
        if (day >= known.first && day < known.first + known.length) {
            return known.days.get((int) (day - known.first));
        }
        LocalDate date = LocalDate.ofEpochDay(day);
        return ofYear(date.getYear()).get(date.getDayOfYear() - 1);
    }

    private BitSet ofYear(int year) {
        LocalDate first = LocalDate.ofYearDay(year, 1);
        int kind = first.getDayOfWeek().getValue() - 1;
        for (int near = year - 1; near <= year + 1; near++) {
            kind = kind * 2 + (Year.isLeap(near) ? 1 : 0);
        }
        BitSet known = kinds.get(kind);
        if (known == null) {
            known = workOut(year);
            kinds.set(kind, known);
        }
        latest = new Known(first.toEpochDay(), first.lengthOfYear(), known);
        return known;
    }

    private BitSet workOut(int year) {
        var days = new BitSet(366);
        for (LocalDate date = LocalDate.ofYearDay(year, 1); date.getYear() == year; ) {
            if (!parts.months().isEmpty() && !parts.months().contains(date.getMonthValue())) {
                date = date.withDayOfMonth(1).plusMonths(1);
                continue;
            }
            days.set(date.getDayOfYear() - 1, matches(date.toEpochDay(), date));
            date = date.plusDays(1);
        }
        return days;
    }

    /** Whether all parts about days agree on one; the month was looked at already. */
    private boolean matches(long day, LocalDate date) {
        boolean silent = parts.weekNumbers().isEmpty()
                && parts.yearDays().isEmpty()
                && parts.monthDays().isEmpty()
                && parts.days().isEmpty();
        if (silent) {
            return silentlyMatches(day, date);
        }
        return weekdayMatches(day, date) && monthDayMatches(date) && yearDayMatches(date) && weekMatches(day, date);
    }

    /** Where nothing is said of days, the start says it. */
    private boolean silentlyMatches(long day, LocalDate date) {
        return switch (parts.frequency()) {
            case YEARLY ->
                date.getDayOfMonth() == start.getDayOfMonth()
                        && (!parts.months().isEmpty() || date.getMonth() == start.getMonth());
            case MONTHLY -> date.getDayOfMonth() == start.getDayOfMonth();
            case WEEKLY -> date.getDayOfWeek() == start.getDayOfWeek();
            default -> true;
        };
    }

    private boolean monthDayMatches(LocalDate date) {
        return parts.monthDays().isEmpty()
                || parts.monthDays().contains(date.getDayOfMonth())
                || parts.monthDays().contains(date.getDayOfMonth() - date.lengthOfMonth() - 1);
    }

    private boolean yearDayMatches(LocalDate date) {
        return parts.yearDays().isEmpty()
                || parts.yearDays().contains(date.getDayOfYear())
                || parts.yearDays().contains(date.getDayOfYear() - date.lengthOfYear() - 1);
    }

    private boolean weekdayMatches(long day, LocalDate date) {
        if (parts.days().isEmpty()) {
            boolean weekAlone = !parts.weekNumbers().isEmpty()
                    && parts.monthDays().isEmpty()
                    && parts.yearDays().isEmpty();
            return !weekAlone || date.getDayOfWeek() == start.getDayOfWeek();
        }
        int weekday = Weekdays.of(day);
        // a number counts within the month where months are what is chosen, and within the year otherwise
        boolean inMonth =
                parts.frequency() == Frequency.MONTHLY || !parts.months().isEmpty();
        int place = inMonth ? date.getDayOfMonth() : date.getDayOfYear();
        int length = inMonth ? date.lengthOfMonth() : date.lengthOfYear();
        for (NumberedDay wanted : parts.days()) {
            if (wanted.weekday() == weekday
                    && (wanted.place() == 0
                            || wanted.place() == (place + 6) / 7
                            || wanted.place() == -((length - place + 7) / 7))) {
                return true;
            }
        }
        return false;
    }

    private boolean weekMatches(long day, LocalDate date) {
        if (parts.weekNumbers().isEmpty()) {
            return true;
        }
        // the week belongs to the year that holds the fourth of its days
        long weekFirst = day - Math.floorMod(Weekdays.of(day) - parts.weekStart(), 7);
        int year = LocalDate.ofEpochDay(weekFirst + 3).getYear();
        int number = (int) ((weekFirst - firstWeek(year)) / 7) + 1;
        int weeks = (int) ((firstWeek(year + 1) - firstWeek(year)) / 7);
        return parts.weekNumbers().contains(number) || parts.weekNumbers().contains(number - weeks - 1);
    }

    /** The first day of the week that holds 4 January, the first week of a year. */
    private long firstWeek(int year) {
        long fourth = LocalDate.of(year, 1, 4).toEpochDay();
        return fourth - Math.floorMod(Weekdays.of(fourth) - parts.weekStart(), 7);
    }

    static List<Integer> orElse(List<Integer> given, int fallback) {
        return given.isEmpty() ? List.of(fallback) : given;
    }
}
