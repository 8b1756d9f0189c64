package org.gantrel.service.schedule;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.BooleanSupplier;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.gantrel.core.access.Deed;
import org.gantrel.core.calendar.CalendarDays;
import org.gantrel.core.job.Schedule;
import org.gantrel.core.schedule.Plan;
import org.gantrel.core.schedule.Starts;
import org.gantrel.service.calendar.CalendarUse;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.team.Caller;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** The schedules that speak of calendars: which they are, what they start, and what a change of days would move. */
@Component
@Transactional
class ScheduledByCalendar implements CalendarUse {

    private static final int MOST_COMPARED = 400;
    private static final Duration LONGEST_COMPARISON = Duration.ofSeconds(3);
    private static final int MOST_STARTS = 5_000;

    private final ScheduleStore store;
    private final Plans plans;
    private final Schedules all;
    private final Jobs jobs;
    private final Clock clock;

    ScheduledByCalendar(ScheduleStore store, Plans plans, Schedules all, Jobs jobs, Clock clock) {
        this.store = store;
        this.plans = plans;
        this.all = all;
        this.jobs = jobs;
        this.clock = clock;
    }

    @Override
    public Comparison moved(Caller caller, Function<String, Optional<CalendarDays>> days, int daysAhead) {
        Instant now = clock.instant();
        BooleanSupplier late = Patience.lateAfter(LONGEST_COMPARISON);
        int notCompared = 0;
        Instant until = now.plus(Duration.ofDays(daysAhead));
        var moved = new ArrayList<Moved>();
        for (ScheduleRecord record : store.inUse()) {
            Optional<Schedule> definition = plans.definition(record);
            if (definition.isEmpty() || definition.get().days().equals(Schedule.Days.ANY)) {
                continue;
            }
            if (late.getAsBoolean()) {
                notCompared++;
                continue;
            }
            List<Instant> before = starts(plans.of(record), now, until);
            List<Instant> then =
                    starts(plans.plan(jobs.withId(record.jobId()).name(), definition.get(), days), now, until);
            if (!before.equals(then)) {
                boolean shown =
                        caller.may(Deed.SEE_JOBS, jobs.withId(record.jobId()).team());
                moved.add(new Moved(
                        shown ? jobs.withId(record.jobId()).name() : "",
                        jobs.withId(record.jobId()).team(),
                        shown ? record.name() : "",
                        record.zone().getId(),
                        before.stream().filter(at -> !then.contains(at)).toList(),
                        then.stream().filter(at -> !before.contains(at)).toList()));
            }
        }
        return new Comparison(moved, notCompared);
    }

    private static List<Instant> starts(Plan plan, Instant now, Instant until) {
        Starts coming = plan.starts(now);
        var found = new ArrayList<Instant>();
        Optional<Instant> next = coming.next().map(Plan.Occurrence::at);
        while (found.size() < MOST_COMPARED && next.filter(until::isAfter).isPresent()) {
            found.add(next.get());
            next = coming.next().map(Plan.Occurrence::at);
        }
        return found;
    }

    @Override
    public List<Start> starts(Caller caller, String calendar, Instant after, Instant until) {
        Set<Long> users = using(calendar).map(ScheduleRecord::jobId).collect(Collectors.toSet());
        Set<Long> schedules = using(calendar).map(ScheduleRecord::id).collect(Collectors.toSet());
        return all.coming(caller, after, until, job -> users.contains(job.id()), MOST_STARTS).stream()
                .filter(start -> schedules.contains(start.id()))
                .map(start -> new Start(start.job(), start.schedule(), start.zone(), start.at()))
                .toList();
    }

    @Override
    @Transactional(readOnly = true)
    public List<String> users(Caller caller, String calendar) {
        return Stream.concat(
                        using(calendar)
                                .filter(record -> caller.may(
                                        Deed.SEE_JOBS,
                                        jobs.withId(record.jobId()).team()))
                                .map(record -> jobs.withId(record.jobId()).name() + " / " + record.name()),
                        jobs.waitingFor(calendar)
                                .filter(job -> caller.may(Deed.SEE_JOBS, job.team()))
                                .map(job -> "a gate of " + job.name()))
                .toList();
    }

    @Override
    @Transactional(readOnly = true)
    public boolean isUsed(String calendar) {
        return using(calendar).findAny().isPresent()
                || jobs.waitingFor(calendar).findAny().isPresent();
    }

    private Stream<ScheduleRecord> using(String calendar) {
        return store.inUse().stream().filter(record -> plans.definition(record)
                .filter(schedule -> schedule.days().calendar().equals(calendar)
                        || schedule.days().except().equals(calendar))
                .isPresent());
    }
}
