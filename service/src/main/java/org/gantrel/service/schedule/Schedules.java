package org.gantrel.service.schedule;

import java.time.Clock;
import java.time.Instant;
import java.time.ZoneId;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.gantrel.core.access.Deed;
import org.gantrel.core.job.Schedule;
import org.gantrel.core.text.Nearest;
import org.gantrel.service.change.Changes;
import org.gantrel.service.event.Events;
import org.gantrel.service.job.JobRecord;
import org.gantrel.service.job.JobRetired;
import org.gantrel.service.job.JobSaved;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.job.ScheduleFacts;
import org.gantrel.service.team.Caller;
import org.gantrel.service.time.Waker;
import org.gantrel.service.web.Refusal;
import org.springframework.context.event.EventListener;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** The schedules of all jobs: kept in step with the definitions, switched off and on, and looked ahead. */
@Component
@Transactional
public class Schedules implements ScheduleFacts {

    private static final int TIMES_SHOWN = 5;

    /** A start that is to come. */
    public record Coming(String job, String team, String schedule, Instant at) {}

    private final ScheduleStore store;
    private final Jobs jobs;
    private final Changes changes;
    private final Events events;
    private final Waker waker;
    private final Clock clock;

    Schedules(ScheduleStore store, Jobs jobs, Changes changes, Events events, Waker waker, Clock clock) {
        this.store = store;
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
                store.save(new ScheduleRecord(saved.record(), schedule, now));
            } else {
                record.follow(schedule, now);
            }
        }
        known.values().forEach(ScheduleRecord::retire);
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
        List<ScheduleRecord> all = store.ofJob(job.id()).stream()
                .filter(record -> !record.isRetired())
                .toList();
        ScheduleRecord schedule = all.stream()
                .filter(record -> record.name().equals(name))
                .findFirst()
                .orElseThrow(() -> Refusal.notFound("the job " + jobName + " has no schedule '" + name + "'"
                        + Nearest.hint(
                                name, all.stream().map(ScheduleRecord::name).toList())));
        if (schedule.isOn() != on) {
            schedule.switchTo(on, clock.instant());
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

    /** Lets every schedule begin at an instant in the past: what was due since is still to be accounted for. */
    public void planAllFrom(Instant past) {
        store.inUse().forEach(record -> record.planFrom(past));
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
        Instant now = clock.instant();
        return store.inUse().stream()
                .filter(ScheduleRecord::isOn)
                .filter(record -> caller.may(Deed.SEE_RUNS, record.job().team().name()))
                .flatMap(record -> upTo(record, now, until, mostEach)
                        .map(at -> new Coming(
                                record.job().name(), record.job().team().name(), record.name(), at)))
                .sorted(Comparator.comparing(Coming::at))
                .toList();
    }

    private static Stream<Instant> upTo(ScheduleRecord record, Instant now, Instant until, int most) {
        return Stream.iterate(
                        record.timetable().next(now, record.zone()),
                        next -> next.isPresent() && !next.get().isAfter(until),
                        next -> record.timetable().next(next.get(), record.zone()))
                .limit(most)
                .flatMap(Optional::stream);
    }

    private ScheduleView view(ScheduleRecord record, JobRecord job) {
        var timetable = record.timetable();
        Map<String, String> with = jobs.current(job).schedules().stream()
                .filter(schedule -> schedule.name().equals(record.name()))
                .findFirst()
                .map(Schedule::with)
                .orElse(Map.of());
        return new ScheduleView(
                job.name(),
                job.team().name(),
                record.name(),
                record.rule(),
                timetable.phrase(),
                record.zone().getId(),
                record.isOn(),
                with,
                record.isOn() ? timetable.next(clock.instant(), record.zone(), TIMES_SHOWN) : List.of());
    }
}
