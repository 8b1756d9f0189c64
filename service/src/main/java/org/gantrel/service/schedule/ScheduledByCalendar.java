package org.gantrel.service.schedule;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.BooleanSupplier;
import java.util.function.Function;
import java.util.stream.Stream;
import org.gantrel.core.access.Deed;
import org.gantrel.core.calendar.CalendarDays;
import org.gantrel.core.job.Schedule;
import org.gantrel.core.schedule.Plan;
import org.gantrel.core.schedule.Starts;
import org.gantrel.service.calendar.CalendarUse;
import org.gantrel.service.job.JobEntry;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.team.Caller;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** The schedules that speak of calendars: which they are, what they start, and what a change of days would move. */
@Component
@Transactional
class ScheduledByCalendar implements CalendarUse {

    private static final int MOST_TOLD = 400;
    private static final Duration LONGEST_COMPARISON = Duration.ofSeconds(3);
    /** Of one schedule. */
    private static final int MOST_OF_A_DAY = 24;
    /** Of all of them. */
    private static final int MOST_TOGETHER = 100;

    private final ScheduleStore store;
    private final Plans plans;
    private final Jobs jobs;
    private final Clock clock;

    ScheduledByCalendar(ScheduleStore store, Plans plans, Jobs jobs, Clock clock) {
        this.store = store;
        this.plans = plans;
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
            JobEntry job = jobs.withId(record.jobId());
            var differences = new Differences(
                    plans.of(record).starts(now),
                    plans.plan(job.name(), definition.get(), days).starts(now),
                    until);
            if (!differences.find(late)) {
                notCompared++;
            }
            if (!differences.isEmpty()) {
                boolean shown = caller.may(Deed.SEE_JOBS, job.team());
                moved.add(new Moved(
                        shown ? job.name() : "",
                        job.team(),
                        shown ? record.name() : "",
                        record.zone().getId(),
                        differences.before,
                        differences.then));
            }
        }
        return new Comparison(moved, notCompared);
    }

    /** Which starts of two plans are not in both; they are gone through side by side, since one may have very many. */
    private static final class Differences {
        private final List<Instant> before = new ArrayList<>();
        private final List<Instant> then = new ArrayList<>();
        private final Starts old;
        private final Starts other;
        private final Instant until;

        private Differences(Starts old, Starts other, Instant until) {
            this.old = old;
            this.other = other;
            this.until = until;
        }

        /** Whether there was time to find all, or as many as are told. */
        private boolean find(BooleanSupplier late) {
            Instant one = next(old);
            Instant two = next(other);
            while (one.isBefore(until) || two.isBefore(until)) {
                int order = one.compareTo(two);
                if (order < 0) {
                    before.add(one);
                } else if (order > 0) {
                    then.add(two);
                }
                if (before.size() >= MOST_TOLD || then.size() >= MOST_TOLD) {
                    return true;
                }
                if (late.getAsBoolean()) {
                    return false;
                }
                one = order <= 0 ? next(old) : one;
                two = order >= 0 ? next(other) : two;
            }
            return true;
        }

        private boolean isEmpty() {
            return before.isEmpty() && then.isEmpty();
        }
    }

    @Override
    public List<Start> starts(Caller caller, String calendar, Instant after, Instant until) {
        BooleanSupplier late = Patience.lateAfter(LONGEST_COMPARISON);
        Map<LocalDate, Integer> ofDays = new HashMap<>();
        var found = new ArrayList<Start>();
        using(calendar)
                .filter(ScheduleRecord::isOn)
                .filter(record ->
                        caller.may(Deed.SEE_RUNS, jobs.withId(record.jobId()).team()))
                .takeWhile(record -> !late.getAsBoolean())
                .forEach(record -> addStarts(record, after, until, ofDays, found));
        found.sort(Comparator.comparing(Start::at));
        return found;
    }

    /**
     * Adds those of each day, as far as somebody wants to read them: a year of a schedule that comes each minute has half a
     * million, and a calendar may have very many schedules.
     */
    private void addStarts(
            ScheduleRecord record, Instant after, Instant until, Map<LocalDate, Integer> ofDays, List<Start> found) {
        String job = jobs.withId(record.jobId()).name();
        ZoneId zone = record.zone();
        Plan plan = plans.of(record);
        Starts coming = plan.starts(after);
        LocalDate day = LocalDate.MIN;
        int own = 0;
        for (Instant at = next(coming); !at.isAfter(until); at = next(coming)) {
            LocalDate its = at.atZone(zone).toLocalDate();
            own = its.equals(day) ? own + 1 : 1;
            day = its;
            int all = ofDays.merge(day, 1, Integer::sum);
            boolean more = own > MOST_OF_A_DAY || all >= MOST_TOGETHER;
            if (all <= MOST_TOGETHER) {
                found.add(new Start(job, record.name(), zone.getId(), at, more));
            }
            if (more) {
                Instant tomorrow = day.plusDays(1).atStartOfDay(zone).toInstant();
                coming = plan.starts(tomorrow.minus(plan.place()).minusNanos(1));
            }
        }
    }

    private static Instant next(Starts starts) {
        return starts.next().map(Plan.Occurrence::at).orElse(Instant.MAX);
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
