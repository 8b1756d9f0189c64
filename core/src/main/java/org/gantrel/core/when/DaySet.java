package org.gantrel.core.when;

import java.time.LocalDate;

/** A set of days. Days are counted from 1970-01-01, which is day 0, so that a search costs no objects. */
@FunctionalInterface
public interface DaySet {

    /** What {@link #next} answers where no day comes any more. */
    long NEVER = Long.MAX_VALUE;

    /** Monday to Friday, the working days where no calendar says otherwise. */
    DaySet MONDAY_TO_FRIDAY = Weekdays.of(0b0011111);

    DaySet EVERY_DAY = Weekdays.of(0b1111111);

    /** The first day of the set on or after a day; {@link #NEVER} where there is none. */
    long next(long day);

    /** Whether a day is in the set. */
    default boolean holds(long day) {
        return next(day) == day;
    }

    default boolean holds(LocalDate date) {
        return holds(date.toEpochDay());
    }

    /** The last day of the set on or before a day, no more than so many days back; {@link #NEVER} where there is none. */
    default long previous(long day, int mostBack) {
        for (long earlier = day; earlier >= day - mostBack; earlier--) {
            if (holds(earlier)) {
                return earlier;
            }
        }
        return NEVER;
    }
}
