package org.gantrel.core.trigger;

import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.Optional;
import org.gantrel.core.schedule.DayFilter;
import org.gantrel.core.when.DaySet;

/**
 * When a trigger may start its job.
 *
 * @param from the local time from which it may; midnight where nothing is said
 * @param until the local time until which it may, on the next day where that is before {@code from}; nothing for midnight
 * @param calendar the days on which it may; empty for all
 * @param keeps whether what comes outside is kept until then; else it is dropped
 */
public record OpenHours(LocalTime from, Optional<LocalTime> until, ZoneId zone, String calendar, boolean keeps) {

    private static final int DAYS_LOOKED_AHEAD = 3;

    /**
     * The first moment from a given one on at which it may start; nothing where none comes.
     *
     * @param days the days of its calendar
     */
    public Optional<Instant> next(Instant at, DayFilter days) {
        LocalDate today = at.atZone(zone).toLocalDate();
        // what began yesterday may go on over midnight
        for (int i = -1; i <= DAYS_LOOKED_AHEAD; i++) {
            Optional<Instant> found = within(today.plusDays(i), at, days);
            if (found.isPresent()) {
                return found;
            }
        }
        long next = days.next(today.plusDays(DAYS_LOOKED_AHEAD + 1L).toEpochDay());
        return next == DaySet.NEVER ? Optional.empty() : within(LocalDate.ofEpochDay(next), at, days);
    }

    private Optional<Instant> within(LocalDate day, Instant at, DayFilter days) {
        if (!days.holds(day.toEpochDay())) {
            return Optional.empty();
        }
        Instant begin = moment(day.atTime(from));
        LocalDate last = until.filter(end -> end.isAfter(from)).isPresent() ? day : day.plusDays(1);
        Instant end = moment(last.atTime(until.orElse(LocalTime.MIDNIGHT)));
        if (!at.isBefore(end) || !begin.isBefore(end)) {
            return Optional.empty();
        }
        return Optional.of(at.isBefore(begin) ? begin : at);
    }

    /** When a local time comes: the first of two, and where there is none the moment at which the clock is put forward. */
    private Instant moment(LocalDateTime local) {
        return zone.getRules().getValidOffsets(local).stream()
                .findFirst()
                .map(local::toInstant)
                .orElseGet(() -> zone.getRules().getTransition(local).getInstant());
    }

    public String words() {
        String hours = from.equals(LocalTime.MIDNIGHT) && until.isEmpty()
                ? ""
                : " from " + from + " until " + until.orElse(LocalTime.MIDNIGHT);
        String on = calendar.isEmpty() ? "" : " on days of " + calendar;
        return "only" + hours + on + ", " + (keeps ? "kept until then" : "dropped otherwise");
    }
}
