package org.gantrel.service.schedule;

import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.gantrel.core.access.Deed;
import org.gantrel.core.calendar.CalendarDays;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.problem.Problem;
import org.gantrel.core.schedule.DayFilter;
import org.gantrel.core.schedule.Plan;
import org.gantrel.core.schedule.Shift;
import org.gantrel.core.text.Nearest;
import org.gantrel.core.text.Zones;
import org.gantrel.core.when.Timetable;
import org.gantrel.core.when.When;
import org.gantrel.core.when.WhenException;
import org.gantrel.service.calendar.Calendars;
import org.gantrel.service.job.JobEntry;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.job.RunFacts;
import org.gantrel.service.team.Caller;
import org.springframework.stereotype.Component;

/** Plans that are only looked at: what a schedule would stand for, before it is saved. */
@Component
class SchedulePreview {

    /** What is asked for of calendars, as it came with the call. */
    record Keeping(String calendar, String except, String shift) {}

    private final Calendars calendars;
    private final Jobs jobs;
    private final RunFacts facts;

    SchedulePreview(Calendars calendars, Jobs jobs, RunFacts facts) {
        this.calendars = calendars;
        this.jobs = jobs;
        this.facts = facts;
    }

    /**
     * The plan that is asked for.
     *
     * @throws InvalidException with everything that is wrong
     */
    Plan plan(String expression, String zone, Instant start, Keeping keeping) {
        var problems = new ArrayList<Problem>();
        Optional<ZoneId> read = zone(zone, problems);
        Optional<Timetable> timetable = timetable(expression, problems);
        var keep = new DayFilter(
                days("calendar", keeping.calendar(), problems), days("except", keeping.except(), problems));
        Optional<Shift> shift = Shift.of(keeping.shift());
        if (shift.isEmpty()) {
            problems.add(Problem.of("shift", "'" + keeping.shift() + "': " + String.join(", ", Shift.words())));
        }
        if (!problems.isEmpty()) {
            throw new InvalidException(problems);
        }
        ZoneId in = timetable.get().ownZone().orElse(read.orElseThrow());
        Timetable begun = timetable.get().startingAt(start, in);
        return new Plan(
                keep.to().<Timetable>map(begun::workingOn).orElse(begun),
                in,
                keep,
                shift.get(),
                Duration.ZERO,
                Optional.empty(),
                Optional.empty());
    }

    boolean beginsItself(String expression) {
        return When.parse(expression).needsStart();
    }

    Optional<Duration> usual(Caller caller, String job) {
        return job.isEmpty()
                ? Optional.empty()
                : jobs.named(job)
                        .filter(entry -> caller.may(Deed.SEE_RUNS, entry.team()))
                        .map(JobEntry::id)
                        .flatMap(facts::usual);
    }

    private static Optional<ZoneId> zone(String name, List<Problem> problems) {
        try {
            return Optional.of(Zones.named(name));
        } catch (InvalidException e) {
            problems.addAll(e.problems());
            return Optional.empty();
        }
    }

    private static Optional<Timetable> timetable(String expression, List<Problem> problems) {
        try {
            return Optional.of(When.parse(expression));
        } catch (WhenException e) {
            problems.add(Problem.of("expression", e.sentence()));
            return Optional.empty();
        }
    }

    private Optional<CalendarDays> days(String field, String name, List<Problem> problems) {
        if (name.isEmpty()) {
            return Optional.empty();
        }
        Optional<CalendarDays> found = calendars.days(name);
        if (found.isEmpty()) {
            problems.add(
                    Problem.of(field, "there is no calendar '" + name + "'" + Nearest.hint(name, calendars.names())));
        }
        return found;
    }
}
