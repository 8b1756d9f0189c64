package org.gantrel.service.schedule;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.gantrel.core.access.Deed;
import org.gantrel.core.calendar.CalendarDays;
import org.gantrel.core.job.Schedule;
import org.gantrel.core.schedule.Plan;
import org.gantrel.core.text.Nearest;
import org.gantrel.service.calendar.CalendarSaved;
import org.gantrel.service.calendar.CalendarUse;
import org.gantrel.service.change.Changes;
import org.gantrel.service.event.Events;
import org.gantrel.service.job.JobRecord;
import org.gantrel.service.job.JobRetired;
import org.gantrel.service.job.JobSaved;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.job.ScheduleFacts;
import org.gantrel.service.run.Runs;
import org.gantrel.service.team.Caller;
import org.gantrel.service.time.Waker;
import org.gantrel.service.web.Refusal;
import org.springframework.context.event.EventListener;
import org.springframework.data.domain.Limit;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** The schedules of all jobs: kept in step with the definitions, switched off and on, and looked ahead. */
@Component
@Transactional
public class Schedules implements ScheduleFacts, CalendarUse {

    private static final int TIMES_SHOWN = 5;
    private static final int MOST_COMPARED = 400;

    /** A start that is to come. */
    public record Coming(long id, String job, long jobId, String team, String schedule, String zone, Instant at) {}

    /** A schedule by the names of its job and its own. */
    record ScheduleName(String job, String schedule) {}

    private final ScheduleStore store;
    private final OccurrenceStore occurrences;
    private final Plans plans;
    private final Runs runs;
    private final Jobs jobs;
    private final Changes changes;
    private final Events events;
    private final Waker waker;
    private final Clock clock;

    Schedules(
            ScheduleStore store,
            OccurrenceStore occurrences,
            Plans plans,
            Runs runs,
            Jobs jobs,
            Changes changes,
            Events events,
            Waker waker,
            Clock clock) {
        this.store = store;
        this.occurrences = occurrences;
        this.plans = plans;
        this.runs = runs;
        this.jobs = jobs;
        this.changes = changes;
        this.events = events;
        this.waker = waker;
        this.clock = clock;
    }

    @EventListener
    void follow(JobSaved saved) {
        Instant now = clock.instant();
        Map<String, ScheduleRecord> known = new HashMap<>();
        store.ofJob(saved.record().id()).forEach(record -> known.put(record.name(), record));
        for (Schedule schedule : saved.job().schedules()) {
            ScheduleRecord record = known.remove(schedule.name());
            if (record == null) {
                var made = new ScheduleRecord(saved.record(), schedule);
                made.planFrom(now, plans.of(made));
                store.save(made);
            } else if (record.follow(schedule)) {
                record.planFrom(now, plans.of(record));
            }
        }
        known.values().forEach(ScheduleRecord::retire);
        waker.wakeAfterCommit();
    }

    /** Coming times that a calendar moves are worked out anew. */
    @EventListener
    void follow(CalendarSaved saved) {
        Instant now = clock.instant();
        store.inUse().stream()
                .filter(record -> plans.definition(record)
                        .filter(schedule -> !schedule.days().equals(Schedule.Days.ANY))
                        .isPresent())
                .forEach(record -> record.planAnew(now, plans.of(record)));
        waker.wakeAfterCommit();
    }

    @EventListener
    void follow(JobRetired retired) {
        store.ofJob(retired.record().id()).forEach(ScheduleRecord::retire);
    }

    @Override
    @Transactional(readOnly = true)
    public List<ScheduleView> of(JobRecord job) {
        return store.ofJob(job.id()).stream()
                .filter(record -> !record.isRetired())
                .map(record -> view(record, job))
                .toList();
    }

    /** What became of a schedule's latest occurrences, the newest first. */
    @Transactional(readOnly = true)
    List<LastOccurrence> occurrences(Caller caller, String jobName, String name, Instant before, int most) {
        ScheduleRecord schedule = named(jobs.visible(caller, jobName), name);
        return occurrences.findByScheduleIdAndAtLessThanOrderByAtDesc(schedule.id(), before, Limit.of(most)).stream()
                .map(this::outcome)
                .toList();
    }

    /** All schedules in use that a caller may see. */
    @Transactional(readOnly = true)
    List<ScheduleView> visibleTo(Caller caller) {
        return store.inUse().stream()
                .filter(record -> caller.may(Deed.SEE_JOBS, record.job().team().name()))
                .map(record -> view(record, record.job()))
                .toList();
    }

    /** Switches a schedule off or on. While it is off nothing comes due; switched on it goes on from then. */
    ScheduleView switchTo(Caller caller, String jobName, String name, boolean on) {
        JobRecord job = jobs.visible(caller, jobName);
        caller.require(Deed.SWITCH_SCHEDULES, job.team().name());
        ScheduleRecord schedule = named(job, name);
        if (schedule.isOn() != on) {
            if (on) {
                schedule.switchOn(caller.name(), plans.of(schedule), clock.instant());
            } else {
                schedule.switchOff(caller.name(), clock.instant());
            }
            String full = jobName + " / " + name;
            changes.record(
                    caller,
                    on ? "switched on" : "switched off",
                    "schedule",
                    full,
                    job.team().name(),
                    "");
            events.tell("job.changed", job.team().name(), Map.of("job", jobName));
            waker.wakeAfterCommit();
        }
        return view(schedule, job);
    }

    /** Switches many at once: all that may be switched, or none where one may not. */
    List<ScheduleView> switchAll(Caller caller, List<ScheduleName> names, boolean on) {
        return names.stream()
                .map(name -> switchTo(caller, name.job(), name.schedule(), on))
                .toList();
    }

    private ScheduleRecord named(JobRecord job, String name) {
        List<ScheduleRecord> all = store.ofJob(job.id()).stream()
                .filter(record -> !record.isRetired())
                .toList();
        return all.stream()
                .filter(record -> record.name().equals(name))
                .findFirst()
                .orElseThrow(() -> Refusal.notFound("the job " + job.name() + " has no schedule '" + name + "'"
                        + Nearest.hint(
                                name, all.stream().map(ScheduleRecord::name).toList())));
    }

    /** Lets every schedule begin at an instant in the past: what was due since is still to be accounted for. */
    public void planAllFrom(Instant past) {
        store.inUse().forEach(record -> record.planFrom(past, plans.of(record)));
    }

    /** The zone that most schedules which a caller may see are meant in; UTC where there are none. */
    @Transactional(readOnly = true)
    public ZoneId commonestZone(Caller caller) {
        Map<ZoneId, Long> zones = store.inUse().stream()
                .filter(record -> caller.may(Deed.SEE_JOBS, record.job().team().name()))
                .collect(Collectors.groupingBy(ScheduleRecord::zone, Collectors.counting()));
        return zones.entrySet().stream()
                .max(Map.Entry.comparingByValue())
                .map(Map.Entry::getKey)
                .orElse(ZoneId.of("UTC"));
    }

    /** What the schedules will start from now until a time, in order, and no more than so many a schedule. */
    @Transactional(readOnly = true)
    public List<Coming> coming(Caller caller, Instant until, int mostEach) {
        return coming(caller, clock.instant(), until, mostEach);
    }

    /** What the schedules will start after an instant and until another, in order. */
    @Transactional(readOnly = true)
    public List<Coming> coming(Caller caller, Instant after, Instant until, int mostEach) {
        var found = new ArrayList<Coming>();
        for (ScheduleRecord record : store.inUse()) {
            String team = record.job().team().name();
            if (!record.isOn()
                    || !caller.may(Deed.SEE_RUNS, team)
                    || plans.definition(record).isEmpty()) {
                continue;
            }
            Plan plan = plans.of(record);
            Optional<Instant> next = plan.nextStart(after);
            for (int i = 0; i < mostEach && next.isPresent() && !next.get().isAfter(until); i++) {
                found.add(new Coming(
                        record.id(),
                        record.job().name(),
                        record.job().id(),
                        team,
                        record.name(),
                        plan.zone().getId(),
                        next.get()));
                next = plan.nextStart(next.get());
            }
        }
        found.sort(Comparator.comparing(Coming::at));
        return found;
    }

    @Override
    @Transactional(readOnly = true)
    public List<Moved> moved(Caller caller, Function<String, Optional<CalendarDays>> days, int daysAhead) {
        Instant now = clock.instant();
        Instant until = now.plus(Duration.ofDays(daysAhead));
        var moved = new ArrayList<Moved>();
        for (ScheduleRecord record : store.inUse()) {
            Optional<Schedule> definition = plans.definition(record);
            if (definition.isEmpty() || definition.get().days().equals(Schedule.Days.ANY)) {
                continue;
            }
            List<Instant> before = starts(plans.of(record), now, until);
            List<Instant> then = starts(plans.plan(record.job().name(), definition.get(), days), now, until);
            if (!before.equals(then)) {
                boolean shown = caller.may(Deed.SEE_JOBS, record.job().team().name());
                moved.add(new Moved(
                        shown ? record.job().name() : "",
                        record.job().team().name(),
                        shown ? record.name() : "",
                        record.zone().getId(),
                        before.stream().filter(at -> !then.contains(at)).toList(),
                        then.stream().filter(at -> !before.contains(at)).toList()));
            }
        }
        return moved;
    }

    private static List<Instant> starts(Plan plan, Instant now, Instant until) {
        return plan.nextStarts(now, MOST_COMPARED).stream()
                .map(Plan.Occurrence::at)
                .filter(at -> at.isBefore(until))
                .toList();
    }

    @Override
    @Transactional(readOnly = true)
    public List<Start> starts(Caller caller, String calendar, Instant after, Instant until) {
        Set<Long> users = using(calendar).map(ScheduleRecord::id).collect(Collectors.toSet());
        return coming(caller, after, until, MOST_COMPARED).stream()
                .filter(start -> users.contains(start.id()))
                .map(start -> new Start(start.job(), start.schedule(), start.zone(), start.at()))
                .toList();
    }

    @Override
    @Transactional(readOnly = true)
    public List<String> users(Caller caller, String calendar) {
        return using(calendar)
                .filter(record -> caller.may(Deed.SEE_JOBS, record.job().team().name()))
                .map(record -> record.job().name() + " / " + record.name())
                .toList();
    }

    @Override
    @Transactional(readOnly = true)
    public boolean isUsed(String calendar) {
        return using(calendar).findAny().isPresent();
    }

    private Stream<ScheduleRecord> using(String calendar) {
        return store.inUse().stream().filter(record -> plans.definition(record)
                .filter(schedule -> schedule.days().calendar().equals(calendar)
                        || schedule.days().except().equals(calendar))
                .isPresent());
    }

    private LastOccurrence outcome(OccurrenceRecord occurrence) {
        String state = Optional.ofNullable(occurrence.runNumber())
                .flatMap(runs::find)
                .map(run -> run.state().word())
                .orElse(occurrence.outcome().name().toLowerCase(Locale.ROOT));
        return new LastOccurrence(occurrence.at(), state, occurrence.reason(), occurrence.runNumber());
    }

    private ScheduleView view(ScheduleRecord record, JobRecord job) {
        Schedule definition = plans.definition(record).orElseThrow();
        Plan plan = plans.of(record);
        Instant now = clock.instant();
        List<Instant> next = record.isOn()
                ? plan.nextStarts(now, TIMES_SHOWN).stream()
                        .map(Plan.Occurrence::at)
                        .toList()
                : List.of();
        Schedule.Days days = definition.days();
        return new ScheduleView(
                job.name(),
                job.team().name(),
                record.name(),
                definition.when(),
                plan.timetable().phrase(),
                record.zone().getId(),
                record.isOn(),
                definition.with(),
                next,
                some(days.calendar()),
                some(days.except()),
                days.equals(Schedule.Days.ANY) ? null : days.shift().word(),
                definition.window().isZero() ? null : definition.window(),
                definition.from().orElse(null),
                definition.until().orElse(null),
                definition.catchUp().policy().word(),
                occurrences
                        .findTopByScheduleIdOrderByAtDesc(record.id())
                        .map(this::outcome)
                        .orElse(null),
                record.isOn() && next.isEmpty() ? List.of("it never comes round again") : List.of());
    }

    private static String some(String text) {
        return text.isEmpty() ? null : text;
    }
}
