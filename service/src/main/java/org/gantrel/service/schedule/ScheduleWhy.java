package org.gantrel.service.schedule;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Duration;
import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import org.gantrel.core.job.Schedule;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.schedule.Hindsight;
import org.gantrel.core.schedule.Hindsight.Off;
import org.gantrel.core.schedule.Hindsight.Outcome;
import org.gantrel.core.schedule.Hindsight.Standing;
import org.gantrel.core.schedule.Hindsight.Written;
import org.gantrel.core.schedule.Plan;
import org.gantrel.core.text.Instants;
import org.gantrel.core.text.Words;
import org.gantrel.service.calendar.Calendars;
import org.gantrel.service.change.ChangeView;
import org.gantrel.service.change.Changes;
import org.gantrel.service.change.Revision;
import org.gantrel.service.hold.Hold;
import org.gantrel.service.hold.Holds;
import org.gantrel.service.job.JobEntry;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.retention.Retentions;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.RunWaits;
import org.gantrel.service.run.Runs;
import org.gantrel.service.team.Caller;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Says of any moment why a schedule started its job then, or did not: gathers what {@link Hindsight} answers from. */
@Component
class ScheduleWhy {

    /** How far back the occurrence before a moment is looked for: past a leap day that a century leaves out. */
    private static final Duration NEAR = Duration.ofDays(366 * 9);

    /** A start that comes as much later is told as late. */
    private static final Duration WORTH_TELLING = Duration.ofMinutes(1);

    /**
     * The answer.
     *
     * @param outcome {@code started}, {@code missed}, {@code skipped}, {@code coming}, {@code due} or {@code no-occurrence}
     * @param sentence the answer in words
     * @param run the run that it was written down as
     * @param runState how that run stands now
     * @param revision the revision of the job that held then; missing for a moment that is to come, or before the first
     * @param before the last occurrence before that moment by the schedule as it is now
     * @param next the first one after it
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record Answer(
            Instant at,
            String zone,
            String outcome,
            String sentence,
            Long run,
            String runState,
            Integer revision,
            Instant before,
            Instant next) {}

    private final Schedules schedules;
    private final OccurrenceStore occurrences;
    private final Plans plans;
    private final Jobs jobs;
    private final Calendars calendars;
    private final Changes changes;
    private final Retentions retentions;
    private final Runs runs;
    private final RunWaits waits;
    private final Holds holds;

    ScheduleWhy(
            Schedules schedules,
            OccurrenceStore occurrences,
            Plans plans,
            Jobs jobs,
            Calendars calendars,
            Changes changes,
            Retentions retentions,
            Runs runs,
            RunWaits waits,
            Holds holds) {
        this.schedules = schedules;
        this.occurrences = occurrences;
        this.plans = plans;
        this.jobs = jobs;
        this.calendars = calendars;
        this.changes = changes;
        this.retentions = retentions;
        this.runs = runs;
        this.waits = waits;
        this.holds = holds;
    }

    @Transactional(readOnly = true)
    Answer why(Caller caller, String jobName, String name, String moment, Instant now) {
        JobEntry job = jobs.visible(caller, jobName);
        ScheduleRecord schedule = schedules.named(job, name);
        if (moment.isBlank()) {
            throw new InvalidException("at", "is missing: the moment that is asked about, such as " + now);
        }
        Instant at = read(moment, schedule);
        var hindsight = new Hindsight(now, schedule.zone());
        Optional<OccurrenceRecord> record = occurrences.findByScheduleIdAndAt(schedule.id(), at);
        Optional<Run> run = record.map(OccurrenceRecord::runNumber).flatMap(runs::find);
        Optional<Revision.View> then = at.isAfter(now) ? Optional.empty() : jobs.heldAt(job, at);
        Hindsight.Answer answer = record.map(one -> hindsight.written(at, written(one, run, hindsight)))
                .orElseGet(() -> hindsight.unwritten(at, standing(job, schedule, then, at, now)));
        Plan plan = plans.of(schedule);
        return new Answer(
                at,
                schedule.zone().getId(),
                answer.outcome().word(),
                answer.sentence(),
                record.map(OccurrenceRecord::runNumber).orElse(null),
                run.map(there -> there.state().word()).orElse(null),
                then.map(Revision.View::revision).orElse(null),
                plan.last(at, at.minus(NEAR)).map(Plan.Occurrence::at).orElse(null),
                plan.next(at).map(Plan.Occurrence::at).orElse(null));
    }

    private static Instant read(String moment, ScheduleRecord schedule) {
        try {
            return Instants.parse(moment, schedule.zone());
        } catch (IllegalArgumentException e) {
            throw new InvalidException("at", "'" + moment + "': " + e.getMessage());
        }
    }

    private Written written(OccurrenceRecord record, Optional<Run> run, Hindsight hindsight) {
        Outcome outcome =
                switch (record.outcome()) {
                    case STARTED -> Outcome.STARTED;
                    case MISSED -> Outcome.MISSED;
                    case SKIPPED -> Outcome.SKIPPED;
                };
        return new Written(
                outcome,
                record.reason(),
                run.map(there -> outcome == Outcome.STARTED ? stands(there, hindsight) : "run " + there.number()));
    }

    private String stands(Run run, Hindsight hindsight) {
        String message = run.message().isEmpty() ? "" : ": " + run.message();
        String ended = run.finishedAt().map(at -> " at " + hindsight.told(at)).orElse("")
                + (run.attempt() > 1 && !run.isParent() ? " (try " + run.attempt() + ")" : "");
        return "run " + run.number() + ", which "
                + late(run)
                + switch (run.state()) {
                    case WAITING -> run.waitingFor().isEmpty() ? "waits for its turn" : "waits for " + run.waitingFor();
                    case RUNNING -> "is under way";
                    case SUCCEEDED -> "succeeded" + ended;
                    case WARNED -> "ended with warnings" + ended + message;
                    case FAILED -> "failed" + ended + message;
                    case SKIPPED, MISSED -> "was " + run.state().word() + ended + message;
                    case TIMED_OUT, CANCELLED ->
                        (run.message().isEmpty() ? "was " + run.state().word() : "was " + run.message()) + ended;
                };
    }

    /** By how much it began late, and for what it waited longest before that. */
    private String late(Run run) {
        Instant began = runs.began(run).orElse(run.plannedAt());
        Duration by = Duration.between(run.plannedAt(), began);
        if (by.compareTo(WORTH_TELLING) < 0) {
            return "";
        }
        String waited = waits.of(run.number()).stream()
                .filter(wait -> wait.until().filter(end -> !end.isAfter(began)).isPresent())
                .max(Comparator.comparing(ScheduleWhy::length))
                .map(wait -> ", having waited " + Words.duration(length(wait)) + " for " + wait.what())
                .orElse("");
        return "began " + Words.duration(by) + " late" + waited + ", and ";
    }

    private static Duration length(RunWaits.Waited wait) {
        return Duration.between(wait.since(), wait.until().orElseThrow());
    }

    private Standing standing(
            JobEntry job, ScheduleRecord schedule, Optional<Revision.View> then, Instant at, Instant now) {
        boolean past = !at.isAfter(now);
        return new Standing(
                then.map(view -> revision(job, schedule, view)),
                revision(job, schedule, jobs.first(job)),
                revision(job, schedule, jobs.revisionView(job, job.revision())),
                past ? offAt(job, schedule, at) : off(schedule),
                schedule.firstOpen(),
                retentions.of(job).runs().map(now::minus),
                past ? Optional.empty() : hold(job, at).map(hold -> ahead(hold, schedule, now)),
                past
                        ? then.flatMap(view -> rule(job, schedule, view.revision()))
                                .flatMap(rule -> calendarChanged(rule, at, now))
                        : Optional.empty());
    }

    private Optional<Schedule> rule(JobEntry job, ScheduleRecord schedule, int revision) {
        return jobs.at(job, revision).schedules().stream()
                .filter(each -> each.name().equals(schedule.name()))
                .findFirst();
    }

    private Hindsight.Revision revision(JobEntry job, ScheduleRecord schedule, Revision.View view) {
        Optional<Hindsight.Rule> rule = rule(job, schedule, view.revision())
                .map(each -> new Hindsight.Rule(
                        plans.plan(job.name(), each, calendars::days),
                        each.when(),
                        each.window(),
                        ScheduleRecord.ruleOf(each) + each.zone()));
        return new Hindsight.Revision(view.revision(), view.madeAt(), view.madeBy(), rule);
    }

    private static Optional<Off> off(ScheduleRecord schedule) {
        return schedule.isOn()
                ? Optional.empty()
                : Optional.of(new Off(schedule.switchedBy(), Optional.ofNullable(schedule.switchedAt())));
    }

    /** Whether it was off at a moment of the past: by the last switch before it, or else by the first one after it. */
    private Optional<Off> offAt(JobEntry job, ScheduleRecord schedule, Instant at) {
        Optional<ChangeView> before = changes.lastOf("schedule", Schedules.full(job, schedule), job.team(), at);
        if (before.isPresent()) {
            return before.filter(change -> change.deed().equals(Schedules.OFF))
                    .map(change -> new Off(change.person(), Optional.of(change.at())));
        }
        Optional<ChangeView> after = changes.firstOf("schedule", Schedules.full(job, schedule), job.team(), at);
        boolean off = after.map(change -> !change.deed().equals(Schedules.OFF)).orElseGet(() -> off(schedule)
                .filter(now -> now.since().filter(at::isBefore).isEmpty())
                .isPresent());
        return off ? Optional.of(new Off("", Optional.empty())) : Optional.empty();
    }

    private Optional<Hold> hold(JobEntry job, Instant at) {
        Set<String> lanes = jobs.current(job).rules().lanes().keySet();
        List<Hold> on =
                holds.of(job, lanes).stream().filter(hold -> hold.isOn(at)).toList();
        return Holds.holding(on, job.name(), job.teamId(), lanes);
    }

    private static String ahead(Hold hold, ScheduleRecord schedule, Instant now) {
        var hindsight = new Hindsight(now, schedule.zone());
        return hold.skips()
                ? "it comes due then and will be skipped, on hold: " + hold.words()
                : "it comes due then and will wait for " + hold.asWait().text()
                        + hold.until()
                                .map(end -> ", until " + hindsight.told(end))
                                .orElse("");
    }

    /** A calendar of the schedule whose days have been changed since; the plan is worked out with what they are now. */
    private Optional<String> calendarChanged(Schedule rule, Instant at, Instant now) {
        var hindsight = new Hindsight(now, rule.zone());
        return Stream.of(rule.days().calendar(), rule.days().except())
                .filter(name -> !name.isEmpty())
                .flatMap(name -> calendars.changedAfter(name, at).stream()
                        .map(change -> "the calendar " + name + " was changed after that, on "
                                + hindsight.told(change.madeAt()) + " by " + change.madeBy()))
                .findFirst();
    }
}
