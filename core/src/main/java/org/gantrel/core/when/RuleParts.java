package org.gantrel.core.when;

import java.util.List;
import java.util.Optional;

/**
 * The parts of a recurrence rule (RFC 5545, 3.3.10), the lists in ascending order.
 *
 * @param weekStart the day that weeks begin on, Monday being 0
 */
record RuleParts(
        Frequency frequency,
        int interval,
        Optional<Integer> count,
        Optional<Stamp> until,
        List<Integer> months,
        List<Integer> weekNumbers,
        List<Integer> yearDays,
        List<Integer> monthDays,
        List<NumberedDay> days,
        List<Integer> hours,
        List<Integer> minutes,
        List<Integer> seconds,
        List<Integer> positions,
        int weekStart) {

    /** How often a rule comes round, before its other parts expand or limit that. */
    enum Frequency {
        MINUTELY,
        HOURLY,
        DAILY,
        WEEKLY,
        MONTHLY,
        YEARLY
    }

    /** A weekday, Monday being 0; with a place other than 0, that one of a month or a year. */
    record NumberedDay(int place, int weekday) {}

    /**
     * A time as iCalendar writes it.
     *
     * @param utc whether it is an instant; otherwise it is local to the zone that goes with it
     * @param wholeDay whether a day alone was written
     */
    record Stamp(long day, int second, boolean utc, boolean wholeDay) {
        static Stamp ofInstant(long second) {
            return new Stamp(
                    Math.floorDiv(second, (long) Times.DAY),
                    (int) Math.floorMod(second, (long) Times.DAY),
                    true,
                    false);
        }

        long local() {
            return day * Times.DAY + second;
        }
    }

    /** A mask of the weekdays that stand without a place. */
    int plainWeekdays() {
        return days.stream()
                .filter(day -> day.place() == 0)
                .mapToInt(day -> 1 << day.weekday())
                .reduce(0, (one, other) -> one | other);
    }

    List<NumberedDay> placedDays() {
        return days.stream().filter(day -> day.place() != 0).toList();
    }
}
