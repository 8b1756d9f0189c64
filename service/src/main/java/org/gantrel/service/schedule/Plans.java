package org.gantrel.service.schedule;

import java.util.Optional;
import java.util.function.Function;
import org.gantrel.core.calendar.CalendarDays;
import org.gantrel.core.job.Schedule;
import org.gantrel.core.schedule.DayFilter;
import org.gantrel.core.schedule.Plan;
import org.gantrel.service.cache.CommittedCache;
import org.gantrel.service.calendar.CalendarSaved;
import org.gantrel.service.calendar.Calendars;
import org.gantrel.service.job.JobEntry;
import org.gantrel.service.job.Jobs;
import org.springframework.context.event.EventListener;
import org.springframework.core.Ordered;
import org.springframework.core.annotation.Order;
import org.springframework.stereotype.Component;

/** What schedules stand for, with their calendars. A plan is worked out once for a revision of its job. */
@Component
class Plans {

    private record Key(long job, int revision, String schedule) {}

    private final Jobs jobs;
    private final Calendars calendars;
    private final CommittedCache<Key, Plan> known = new CommittedCache<>(50_000);

    Plans(Jobs jobs, Calendars calendars) {
        this.jobs = jobs;
        this.calendars = calendars;
    }

    @EventListener
    @Order(Ordered.HIGHEST_PRECEDENCE)
    void forget(CalendarSaved saved) {
        known.changedAll();
    }

    /** The schedule as its job's latest revision has it; nothing where that has it no more. */
    Optional<Schedule> definition(ScheduleRecord record) {
        return jobs.current(jobs.withId(record.jobId())).schedules().stream()
                .filter(schedule -> schedule.name().equals(record.name()))
                .findFirst();
    }

    Plan of(ScheduleRecord record) {
        JobEntry job = jobs.withId(record.jobId());
        return known.get(
                new Key(job.id(), job.revision(), record.name()),
                key -> plan(job.name(), definition(record).orElseThrow(), calendars::days));
    }

    /** The same by another rule; its calendars, window and dates stay. */
    Plan by(String rule, ScheduleRecord record) {
        Schedule schedule = definition(record).orElseThrow();
        return plan(jobs.withId(record.jobId()).name(), schedule.by(rule), calendars::days);
    }

    /** The plan of a schedule with calendars as they may be some day. */
    Plan plan(String job, Schedule schedule, Function<String, Optional<CalendarDays>> days) {
        Schedule.Days names = schedule.days();
        var keep = new DayFilter(
                names.calendar().isEmpty() ? Optional.empty() : days.apply(names.calendar()),
                names.except().isEmpty() ? Optional.empty() : days.apply(names.except()));
        return schedule.plan(job, keep);
    }
}
