package org.gantrel.core.job;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.expression.PlannedTime;
import org.gantrel.core.run.Limits;
import org.gantrel.core.schedule.CatchUp;
import org.gantrel.core.schedule.DayFilter;
import org.gantrel.core.schedule.Plan;
import org.gantrel.core.schedule.Shift;
import org.gantrel.core.text.Words;
import org.gantrel.core.when.Timetable;
import org.gantrel.core.when.When;

/**
 * When a job starts by itself, with the values for that start.
 *
 * @param name unique within the job
 * @param when the rule as it was written
 * @param zone the zone whose local times the rule means
 * @param on whether a new schedule begins switched on
 * @param days the calendars that it keeps to and off
 * @param window how long after its time it may start, so that not everything starts on the hour
 * @param over the roster that it runs the job over; empty for a single run
 * @param deadline when a run is to have ended
 * @param catchUp what to do with occurrences that nobody was there to start
 */
public record Schedule(
        String name,
        String when,
        ZoneId zone,
        boolean on,
        Map<String, String> with,
        Days days,
        Duration window,
        Optional<LocalDate> from,
        Optional<LocalDate> until,
        CatchUp catchUp,
        String over,
        Optional<Deadline> deadline) {

    /**
     * When a run is to have ended.
     *
     * @param time the first such local time after the planned one; nothing where a length is said
     * @param after how long after the planned time; nothing where a time is said
     */
    public record Deadline(Optional<LocalTime> time, Optional<Duration> after) {
        /** The moment that it means for a run. */
        public Instant of(PlannedTime planned) {
            return after.map(planned.at()::plus)
                    .orElseGet(() -> Limits.first(planned, time.orElseThrow()).toInstant());
        }

        /** As a definition writes it. */
        public String word() {
            return time.map(LocalTime::toString)
                    .orElseGet(() -> Words.duration(after.orElseThrow()) + " after its time");
        }
    }

    /**
     * The calendars that a schedule keeps to and off, by name.
     *
     * @param calendar the calendar whose days are wanted; empty for every day
     * @param except the calendar whose days are not wanted; empty for none
     * @param shift what becomes of an occurrence on a wrong day
     */
    public record Days(String calendar, String except, Shift shift) {
        public static final Days ANY = new Days("", "", Shift.SKIP);
    }

    public Schedule {
        with = Map.copyOf(with);
    }

    /** The same by another rule. */
    public Schedule by(String rule) {
        return new Schedule(name, rule, zone, on, with, days, window, from, until, catchUp, over, deadline);
    }

    public Timetable timetable() {
        return When.parseKept(when);
    }

    /** The plan of it with its calendars; {@code job} makes its place in its window its own. */
    public Plan plan(String job, DayFilter keep) {
        Timetable timetable =
                keep.to().isPresent() ? timetable().workingOn(keep.to().get()) : timetable();
        return new Plan(timetable, zone, keep, days.shift(), Plan.placeIn(window, job + "/" + name), from, until);
    }
}
