package org.gantrel.service.calendar;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import org.gantrel.core.calendar.CalendarDays;
import org.gantrel.service.team.Caller;

/** What the schedules make of the calendars. */
public interface CalendarUse {

    /**
     * A schedule whose coming starts would be others; a caller who may not see it is told of its team alone.
     *
     * @param before starts that would fall away
     * @param then starts that would come instead
     */
    record Moved(String job, String team, String schedule, String zone, List<Instant> before, List<Instant> then) {}

    /**
     * What a change would move.
     *
     * @param notCompared schedules for which there was no time
     */
    record Comparison(List<Moved> moved, int notCompared) {}

    /**
     * A start that keeps to a calendar or off it.
     *
     * @param more whether that day has more starts, of the schedule or of others, which are left out
     */
    record Start(String job, String schedule, String zone, Instant at, boolean more) {}

    /** How the coming starts would move if the days of calendars were others. */
    Comparison moved(Caller caller, Function<String, Optional<CalendarDays>> days, int daysAhead);

    /** What will be started by the schedules that speak of a calendar, as far as the caller may see it and there is time. */
    List<Start> starts(Caller caller, String calendar, Instant after, Instant until);

    /** The jobs and schedules that speak of a calendar, as far as the caller may see them. */
    List<String> users(Caller caller, String calendar);

    /** Whether any schedule speaks of a calendar. */
    boolean isUsed(String calendar);
}
