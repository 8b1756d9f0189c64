package org.gantrel.core.when;

import java.time.LocalDate;
import java.time.Month;
import java.util.ArrayList;
import java.util.List;
import org.gantrel.core.when.RuleParts.Frequency;
import org.gantrel.core.when.RuleParts.NumberedDay;

/**
 * Decides which days of a period a rule means, by the table of RFC 5545, 3.3.10: every part that is given must agree.
 * What a rule does not say comes from its start.
 */
final class RuleYear {

    private final RuleParts parts;
    private final LocalDate start;

    RuleYear(RuleParts parts, LocalDate start) {
        this.parts = parts;
        this.start = start;
    }

    /** The days of the period that begins with a day, in order. */
    long[] days(long first, long last) {
        var days = new ArrayList<Long>();
        LocalDate begin = LocalDate.ofEpochDay(first);
        for (long day = first; day <= last; ) {
            LocalDate date = begin.plusDays(day - first);
            if (!parts.months().isEmpty() && !parts.months().contains(date.getMonthValue())) {
                day = date.withDayOfMonth(1).plusMonths(1).toEpochDay();
                continue;
            }
            if (matches(day, date)) {
                days.add(day);
            }
            day++;
        }
        return days.stream().mapToLong(Long::longValue).toArray();
    }

    /** Whether any month that is meant has any day that is meant: 30 February is known at once, not searched for. */
    boolean isPossible() {
        return parts.months().isEmpty()
                || parts.monthDays().isEmpty()
                || parts.months().stream().anyMatch(month -> parts.monthDays().stream()
                        .anyMatch(day -> Math.abs(day) <= Month.of(month).maxLength()));
    }

    /** Whether one day is meant. */
    boolean holds(long day, LocalDate date) {
        return (parts.months().isEmpty() || parts.months().contains(date.getMonthValue())) && matches(day, date);
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
