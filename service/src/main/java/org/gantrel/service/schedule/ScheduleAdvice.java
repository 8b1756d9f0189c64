package org.gantrel.service.schedule;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import org.gantrel.core.calendar.CalendarDays;
import org.gantrel.core.job.Job;
import org.gantrel.core.schedule.Cautions;
import org.gantrel.core.schedule.Plan;
import org.gantrel.service.calendar.Calendars;
import org.gantrel.service.job.JobAdvice;
import org.gantrel.service.job.JobEntry;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.job.RunFacts;
import org.springframework.stereotype.Component;

/** What the schedules of a definition stand for and what to beware of, before it is saved. */
@Component
public class ScheduleAdvice implements JobAdvice {

    private static final int TIMES_SHOWN = 3;
    private static final Duration LONGEST_LOOK = Duration.ofMillis(500);

    /** A schedule in words with its first times. */
    public record Explained(String name, String phrase, String zone, List<Instant> next) {}

    private final Calendars calendars;
    private final Plans plans;
    private final Jobs jobs;
    private final RunFacts facts;
    private final Clock clock;

    ScheduleAdvice(Calendars calendars, Plans plans, Jobs jobs, RunFacts facts, Clock clock) {
        this.calendars = calendars;
        this.plans = plans;
        this.jobs = jobs;
        this.facts = facts;
        this.clock = clock;
    }

    @Override
    public List<String> warnings(Job job) {
        Instant now = clock.instant();
        Optional<Duration> usual = jobs.named(job.name()).map(JobEntry::id).flatMap(facts::usual);
        List<Cautions.Named> named = job.schedules().stream()
                .map(schedule -> new Cautions.Named(schedule.name(), plans.plan(job.name(), schedule, calendars::days)))
                .toList();
        return Cautions.ofAll(named, now, usual, Patience.lateAfter(LONGEST_LOOK));
    }

    /** The schedules of a job in words; {@code days} knows calendars that are not saved yet too. */
    public List<Explained> explain(Job job, Function<String, Optional<CalendarDays>> days) {
        return job.schedules().stream()
                .map(schedule -> {
                    Plan plan = plans.plan(job.name(), schedule, days);
                    return new Explained(
                            schedule.name(),
                            plan.timetable().phrase(),
                            plan.zone().getId(),
                            plan.nextStarts(clock.instant(), TIMES_SHOWN).stream()
                                    .map(Plan.Occurrence::at)
                                    .toList());
                })
                .toList();
    }
}
