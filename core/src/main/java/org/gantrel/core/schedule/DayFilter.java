package org.gantrel.core.schedule;

import java.time.LocalDate;
import java.time.LocalDateTime;
import java.util.Optional;
import org.gantrel.core.calendar.Calendar;
import org.gantrel.core.calendar.CalendarDays;
import org.gantrel.core.when.DaySet;

/**
 * The days that a schedule keeps to and those that it keeps off.
 *
 * @param to the calendar whose days are wanted
 * @param off the calendar whose days are not wanted
 */
public record DayFilter(Optional<CalendarDays> to, Optional<CalendarDays> off) implements DaySet {

    public static final DayFilter ANY_DAY = new DayFilter(Optional.empty(), Optional.empty());

    /** Days in a row that a calendar to keep off may have. */
    private static final int LONGEST_CLOSURE = 1_000;

    public boolean isAnyDay() {
        return to.isEmpty() && off.isEmpty();
    }

    @Override
    public boolean holds(long day) {
        return (to.isEmpty() || to.get().holds(day))
                && (off.isEmpty() || !off.get().holds(day));
    }

    @Override
    public long next(long day) {
        long at = day;
        for (int i = 0; i < LONGEST_CLOSURE; i++) {
            at = to.isEmpty() ? at : to.get().next(at);
            if (at == NEVER || off.isEmpty() || !off.get().holds(at)) {
                return at;
            }
            at++;
        }
        return NEVER;
    }

    /** Why a moment is not wanted, its day or its hour; nothing where it is. */
    public Optional<String> refusal(LocalDateTime at) {
        return refusal(at.toLocalDate()).or(() -> hoursRefusal(at));
    }

    /** Why a day is not wanted; nothing where it is. */
    Optional<String> refusal(LocalDate date) {
        if (to.isPresent() && !to.get().holds(date)) {
            return Optional.of(date + " is no day of " + to.get().calendar().name() + label(to.get(), date));
        }
        if (off.isPresent() && off.get().holds(date)) {
            return Optional.of(date + " is a day of " + off.get().calendar().name() + label(off.get(), date));
        }
        return Optional.empty();
    }

    /** Whether the hours let something start. */
    boolean isOpenAt(LocalDateTime at) {
        return hours().map(hours -> hours.hold(minute(at))).orElse(true);
    }

    /** When the hours begin next, today or tomorrow, after a time outside them; nothing where there are none. */
    Optional<LocalDateTime> opening(LocalDateTime at) {
        return hours().map(hours -> at.toLocalDate()
                .plusDays(minute(at) < hours.from() ? 0 : 1)
                .atStartOfDay()
                .plusMinutes(hours.from()));
    }

    private Optional<Calendar.Hours> hours() {
        return to.flatMap(days -> days.calendar().hours());
    }

    private static int minute(LocalDateTime at) {
        return at.getHour() * 60 + at.getMinute();
    }

    /** Why a time of an open day is not wanted; nothing where it is, or where there are no hours. */
    Optional<String> hoursRefusal(LocalDateTime at) {
        return to.flatMap(days -> days.calendar()
                .hours()
                .filter(hours -> !hours.hold(minute(at)))
                .map(hours -> at.toLocalTime() + " is outside the hours of "
                        + days.calendar().name() + ", " + hours));
    }

    private static String label(CalendarDays days, LocalDate date) {
        return days.label(date).map(text -> " (" + text + ")").orElse("");
    }
}
