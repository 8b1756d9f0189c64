package org.gantrel.service.schedule;

import jakarta.persistence.EntityManager;
import jakarta.persistence.LockModeType;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.PriorityQueue;
import java.util.Set;
import java.util.function.BiPredicate;
import java.util.function.Predicate;
import java.util.stream.Collectors;
import org.gantrel.core.access.Deed;
import org.gantrel.core.job.Schedule;
import org.gantrel.core.schedule.Plan;
import org.gantrel.core.schedule.Starts;
import org.gantrel.core.text.Nearest;
import org.gantrel.service.calendar.CalendarSaved;
import org.gantrel.service.calendar.Calendars;
import org.gantrel.service.change.Changes;
import org.gantrel.service.job.JobEntry;
import org.gantrel.service.job.JobRetired;
import org.gantrel.service.job.JobSaved;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.job.ScheduleFacts;
import org.gantrel.service.journal.Journal;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.retention.LetsGo;
import org.gantrel.service.run.Runs;
import org.gantrel.service.team.Caller;
import org.gantrel.service.time.Waker;
import org.springframework.context.event.EventListener;
import org.springframework.data.domain.Limit;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** The schedules of all jobs: kept in step with the definitions, switched off and on, and looked ahead. */
@Component
@Transactional
public class Schedules implements ScheduleFacts, LetsGo {

    /** As the audit record says it. */
    static final String ON = "switched on";

    static final String OFF = "switched off";

    private static final int TIMES_SHOWN = 5;

    /** A start that is to come. */
    public record Coming(long id, String job, long jobId, String team, String schedule, String zone, Instant at) {}

    /** A job that is to come. @param starts how often */
    public record ComingJob(String job, Instant first, int starts) {}

    /** A schedule by the names of its job and its own. */
    record ScheduleName(String job, String schedule) {}

    private final EntityManager entities;
    private final ScheduleStore store;
    private final OccurrenceStore occurrences;
    private final Plans plans;
    private final Accounting accounting;
    private final Calendars calendars;
    private final Runs runs;
    private final Jobs jobs;
    private final Changes changes;
    private final Journal journal;
    private final Waker waker;
    private final Clock clock;

    Schedules(
            EntityManager entities,
            ScheduleStore store,
            OccurrenceStore occurrences,
            Plans plans,
            Accounting accounting,
            Calendars calendars,
            Runs runs,
            Jobs jobs,
            Changes changes,
            Journal journal,
            Waker waker,
            Clock clock) {
        this.entities = entities;
        this.store = store;
        this.occurrences = occurrences;
        this.plans = plans;
        this.accounting = accounting;
        this.calendars = calendars;
        this.runs = runs;
        this.jobs = jobs;
        this.changes = changes;
        this.journal = journal;
        this.waker = waker;
        this.clock = clock;
    }

    @EventListener
    void follow(JobSaved saved) {
        Instant now = clock.instant();
        Map<String, ScheduleRecord> known = new HashMap<>();
        store.ofJob(saved.record().id()).forEach(record -> known.put(record.name(), record));
        var written = new ArrayList<ScheduleRecord>();
        for (Schedule schedule : saved.job().schedules()) {
            // as it is being saved: reading the definition back would cost as much for each of its schedules
            Plan plan = plans.plan(saved.record().name(), schedule, calendars::days);
            ScheduleRecord record = known.remove(schedule.name());
            if (record == null) {
                var made = new ScheduleRecord(saved.record().id(), schedule);
                made.planFrom(now, plan);
                written.add(store.save(made));
                continue;
            }
            hold(record);
            settle(record, saved.record(), now);
            if (record.follow(schedule)) {
                record.planFrom(now, plan);
            }
        }
        for (ScheduleRecord gone : known.values()) {
            hold(gone);
            settle(gone, saved.record(), now);
            gone.retire();
        }
        // let go of: where many jobs come in together, each question would look through all of these for changes
        store.flush();
        written.forEach(entities::detach);
        waker.wakeAfterCommit();
    }

    /** Keeps the engine from accounting for a schedule while it is changed here, and takes it as the engine left it. */
    private void hold(ScheduleRecord record) {
        entities.refresh(record, LockModeType.PESSIMISTIC_WRITE);
    }

    /** What was due by the revision before stays to be accounted for, and is so now: its plan is known no longer. */
    private void settle(ScheduleRecord record, JobEntry job, Instant now) {
        if (record.nextAt() == null || record.nextAt().isAfter(now) || job.revision() < 2) {
            return;
        }
        jobs.at(job, job.revision() - 1).schedules().stream()
                .filter(schedule -> schedule.name().equals(record.name()))
                .findFirst()
                .ifPresent(schedule ->
                        accounting.settle(record, schedule, plans.plan(job.name(), schedule, calendars::days), now));
    }

    /** Coming times that a calendar moves are worked out anew. */
    @EventListener
    void follow(CalendarSaved saved) {
        Instant now = clock.instant();
        store.inUse().stream()
                .filter(record -> plans.definition(record)
                        .filter(schedule -> !schedule.days().equals(Schedule.Days.ANY))
                        .isPresent())
                .forEach(record -> {
                    hold(record);
                    record.planAnew(now, plans.of(record));
                });
        waker.wakeAfterCommit();
    }

    @EventListener
    void follow(JobRetired retired) {
        for (ScheduleRecord record : store.ofJob(retired.record().id())) {
            hold(record);
            record.retire();
        }
    }

    @Override
    public void letGo(List<Long> runs) {
        occurrences.deleteOf(runs);
    }

    @Override
    @Transactional(readOnly = true)
    public List<ScheduleView> of(JobEntry job) {
        return store.ofJob(job.id()).stream()
                .filter(record -> !record.isRetired())
                .map(record -> view(record, job))
                .toList();
    }

    /** What became of a schedule's latest occurrences, the newest first. */
    @Transactional(readOnly = true)
    List<LastOccurrence> occurrences(Caller caller, String jobName, String name, Instant before, int most) {
        ScheduleRecord schedule = named(jobs.visible(caller, jobName), name);
        return occurrences.before(schedule.id(), before, Limit.of(most)).stream()
                .map(this::outcome)
                .toList();
    }

    /** All schedules in use that a caller may see. */
    @Transactional(readOnly = true)
    List<ScheduleView> visibleTo(Caller caller) {
        return store.inUse().stream()
                .filter(record -> caller.may(Deed.SEE_JOBS, jobOf(record).team()))
                .map(record -> view(record, jobOf(record)))
                .toList();
    }

    /** Switches a schedule off or on. While it is off nothing comes due; switched on it goes on from then. */
    ScheduleView switchTo(Caller caller, String jobName, String name, boolean on) {
        JobEntry job = jobs.visible(caller, jobName);
        caller.require(Deed.SWITCH_SCHEDULES, job.team());
        ScheduleRecord schedule = named(job, name);
        hold(schedule);
        if (schedule.isOn() != on) {
            if (on) {
                schedule.switchOn(caller.name(), plans.of(schedule), clock.instant());
            } else {
                schedule.switchOff(caller.name(), clock.instant());
            }
            changes.record(caller, on ? ON : OFF, "schedule", full(job, schedule), job.team(), "");
            journal.write("gantrel.job.changed", job.team(), Map.of("job", jobName));
            waker.wakeAfterCommit();
        }
        return view(schedule, job);
    }

    /** Switches many at once: all that may be switched, or none where one may not. */
    List<ScheduleView> switchAll(Caller caller, List<ScheduleName> names, boolean on) {
        return names.stream()
                .map(name -> {
                    ScheduleRecord schedule = named(jobs.visible(caller, name.job()), name.schedule());
                    boolean goesOff = schedule.isOn() && !on;
                    ScheduleView switched = switchTo(caller, name.job(), name.schedule(), on);
                    if (!goesOff) {
                        return switched;
                    }
                    schedule.offTogether();
                    return view(schedule, jobs.visible(caller, name.job()));
                })
                .toList();
    }

    ScheduleRecord named(JobEntry job, String name) {
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

    /** The zone that most schedules are meant in, the same for everybody; UTC where there are none. */
    @Transactional(readOnly = true)
    public ZoneId commonestZone() {
        Map<ZoneId, Long> zones =
                store.inUse().stream().collect(Collectors.groupingBy(ScheduleRecord::zone, Collectors.counting()));
        return zones.entrySet().stream()
                .max(Map.Entry.<ZoneId, Long>comparingByValue()
                        .thenComparing(zone -> zone.getKey().getId()))
                .map(Map.Entry::getKey)
                .orElse(ZoneId.of("UTC"));
    }

    /** How many starts the schedules have from now until a time; counted no further than so many. */
    public long countComing(Caller caller, Instant until, int most) {
        Instant now = clock.instant();
        long count = 0;
        for (ScheduleRecord record : visible(caller, job -> true)) {
            Starts starts = plans.of(record).starts(now);
            Optional<Plan.Occurrence> next = starts.next();
            while (count < most && next.isPresent() && !next.get().at().isAfter(until)) {
                count++;
                next = starts.next();
            }
        }
        return count;
    }

    /**
     * What the schedules of some jobs will start after an instant and until another, in order. The schedules are gone
     * through side by side, each only as far as is asked for: of a schedule that comes each minute for a year nobody wants
     * to hold all starts in memory.
     */
    public List<Coming> coming(Caller caller, Instant after, Instant until, Predicate<JobEntry> of, int most) {
        return coming(after, until, of.and(job -> caller.may(Deed.SEE_RUNS, job.team())), most);
    }

    /** The same, whoever reads it. */
    public List<Coming> coming(Instant after, Instant until, Predicate<JobEntry> of, int most) {
        return coming(after, until, (job, schedule) -> of.test(job), Map.of(), most);
    }

    /**
     * The same of some schedules, where some went by other rules.
     *
     * @param of tells them by their job and their own name
     * @param rules by job and schedule with a slash between; one that is off is taken for on
     */
    public List<Coming> coming(
            Instant after, Instant until, BiPredicate<JobEntry, String> of, Map<String, String> rules, int most) {
        var next = new PriorityQueue<>(
                Comparator.comparing((Ahead ahead) -> ahead.at).thenComparing(ahead -> ahead.record.id()));
        for (ScheduleRecord record : inUse(of, rules.keySet())) {
            String rule = rules.get(nameOf(record));
            Plan plan = rule == null ? plans.of(record) : plans.by(rule, record);
            new Ahead(record, jobOf(record), plan, after).moveOn(until).ifPresent(next::add);
        }
        var found = new ArrayList<Coming>();
        while (!next.isEmpty() && found.size() < most) {
            Ahead first = next.poll();
            found.add(first.coming());
            first.moveOn(until).ifPresent(next::add);
        }
        return found;
    }

    /**
     * The jobs that schedules will start after an instant and until another, in the order of their first starts.
     *
     * @param jobs how many at most
     * @param each how far the starts of one are counted
     */
    public List<ComingJob> comingJobs(Instant after, Instant until, Predicate<JobEntry> of, int jobs, int each) {
        Map<String, List<Ahead>> byJob = new HashMap<>();
        for (ScheduleRecord record : inUse((job, name) -> of.test(job), Set.of())) {
            new Ahead(record, jobOf(record), plans.of(record), after)
                    .moveOn(until)
                    .ifPresent(ahead -> byJob.computeIfAbsent(ahead.job.name(), name -> new ArrayList<>())
                            .add(ahead));
        }
        return byJob.entrySet().stream()
                .map(job -> new ComingJob(
                        job.getKey(),
                        job.getValue().stream()
                                .map(ahead -> ahead.at)
                                .min(Instant::compareTo)
                                .orElseThrow(),
                        0))
                .sorted(Comparator.comparing(ComingJob::first).thenComparing(ComingJob::job))
                .limit(jobs)
                .map(job -> new ComingJob(job.job(), job.first(), count(byJob.get(job.job()), until, each)))
                .toList();
    }

    private static int count(List<Ahead> schedules, Instant until, int most) {
        int count = 0;
        for (Ahead ahead : schedules) {
            for (boolean one = true;
                    one && count < most;
                    one = ahead.moveOn(until).isPresent()) {
                count++;
            }
        }
        return count;
    }

    private List<ScheduleRecord> visible(Caller caller, Predicate<JobEntry> of) {
        return inUse((job, name) -> of.test(job) && caller.may(Deed.SEE_RUNS, job.team()), Set.of());
    }

    private String nameOf(ScheduleRecord record) {
        return jobOf(record).name() + "/" + record.name();
    }

    /** @param alsoOff which are meant also where they are off */
    private List<ScheduleRecord> inUse(BiPredicate<JobEntry, String> of, Set<String> alsoOff) {
        return store.inUse().stream()
                .filter(record -> record.isOn() || !alsoOff.isEmpty() && alsoOff.contains(nameOf(record)))
                .filter(record -> of.test(jobOf(record), record.name()))
                .filter(record -> plans.definition(record).isPresent())
                .toList();
    }

    /** A schedule on the way ahead. */
    private static final class Ahead {
        private final ScheduleRecord record;
        private final JobEntry job;
        private final Plan plan;
        private final Starts starts;
        private Instant at;

        private Ahead(ScheduleRecord record, JobEntry job, Plan plan, Instant after) {
            this.record = record;
            this.job = job;
            this.plan = plan;
            this.starts = plan.starts(after);
        }

        private Optional<Ahead> moveOn(Instant until) {
            Optional<Instant> start = starts.next().map(Plan.Occurrence::at).filter(next -> !next.isAfter(until));
            start.ifPresent(next -> at = next);
            return start.map(next -> this);
        }

        private Coming coming() {
            return new Coming(
                    record.id(),
                    job.name(),
                    job.id(),
                    job.team(),
                    record.name(),
                    plan.zone().getId(),
                    at);
        }
    }

    private JobEntry jobOf(ScheduleRecord record) {
        return jobs.withId(record.jobId());
    }

    private LastOccurrence outcome(OccurrenceRecord occurrence) {
        String state = Optional.ofNullable(occurrence.runNumber())
                .flatMap(runs::find)
                .map(run -> run.state().word())
                .orElse(occurrence.outcome().name().toLowerCase(Locale.ROOT));
        return new LastOccurrence(occurrence.at(), state, occurrence.reason(), occurrence.runNumber());
    }

    private ScheduleView view(ScheduleRecord record, JobEntry job) {
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
                job.team(),
                record.name(),
                definition.when(),
                plan.timetable().phrase(),
                record.zone().getId(),
                record.isOn(),
                record.isOffTogether(),
                definition.with(),
                next,
                some(days.calendar()),
                some(days.except()),
                days.equals(Schedule.Days.ANY) ? null : days.shift().word(),
                definition.window().isZero() ? null : definition.window(),
                definition.from().orElse(null),
                definition.until().orElse(null),
                definition.catchUp().policy().word(),
                occurrences.last(record.id()).map(this::outcome).orElse(null),
                record.isOn() && next.isEmpty() ? List.of("it never comes round again") : List.of());
    }

    /** A schedule as the audit record names it. */
    static String full(JobEntry job, ScheduleRecord schedule) {
        return job.name() + " / " + schedule.name();
    }

    private static String some(String text) {
        return text.isEmpty() ? null : text;
    }
}
