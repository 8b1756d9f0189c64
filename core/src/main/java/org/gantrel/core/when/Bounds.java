package org.gantrel.core.when;

import java.time.LocalDate;
import java.util.Optional;

/**
 * How long a rule holds.
 *
 * @param from its first day
 * @param until its last day
 * @param count after how many times it is over, counted from its first day
 */
record Bounds(Optional<LocalDate> from, Optional<LocalDate> until, Optional<Integer> count) {

    static final Bounds NONE = new Bounds(Optional.empty(), Optional.empty(), Optional.empty());

    /** No rule is counted further than this. */
    static final int MOST_TIMES = 10_000;

    /** Those of some days that lie within the first and the last. */
    DaySet limit(DaySet days) {
        if (from.isEmpty() && until.isEmpty()) {
            return days;
        }
        long first = from.map(LocalDate::toEpochDay).orElse(Long.MIN_VALUE);
        long last = until.map(LocalDate::toEpochDay).orElse(Long.MAX_VALUE);
        return day -> {
            long found = day > last ? DaySet.NEVER : days.next(Math.max(day, first));
            return found > last ? DaySet.NEVER : found;
        };
    }

    String words() {
        return from.map(day -> " from " + day).orElse("")
                + until.map(day -> " until " + day).orElse("")
                + count.map(times -> ", " + times + (times == 1 ? " time" : " times"))
                        .orElse("");
    }
}
