package org.gantrel.service.schedule;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Duration;
import java.time.Instant;
import java.time.ZonedDateTime;
import java.time.format.DateTimeFormatter;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Schedule;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.schedule.Plan;
import org.gantrel.service.hold.Hold;
import org.gantrel.service.hold.Holds;
import org.gantrel.service.job.JobEntry;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.team.Caller;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Says of any moment why a schedule started its job then, or did not. */
@Component
class ScheduleWhy {

    private static final DateTimeFormatter LOCAL = DateTimeFormatter.ofPattern("EEE d MMM HH:mm[:ss]", Locale.ENGLISH);
    private static final Duration NEAR = Duration.ofDays(400);

    /**
     * The answer.
     *
     * @param outcome {@code started}, {@code missed}, {@code skipped}, {@code coming} or {@code no-occurrence}
     * @param sentence the answer in words
     * @param run the run that it was written down as
     * @param before the last occurrence before that moment by the schedule as it is now
     * @param next the first one after it
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record Answer(Instant at, String zone, String outcome, String sentence, Long run, Instant before, Instant next) {}

    private final Schedules schedules;
    private final OccurrenceStore occurrences;
    private final Plans plans;
    private final Jobs jobs;
    private final Holds holds;

    ScheduleWhy(Schedules schedules, OccurrenceStore occurrences, Plans plans, Jobs jobs, Holds holds) {
        this.schedules = schedules;
        this.occurrences = occurrences;
        this.plans = plans;
        this.jobs = jobs;
        this.holds = holds;
    }

    @Transactional(readOnly = true)
    Answer why(Caller caller, String jobName, String name, Instant at, Instant now) {
        JobEntry job = jobs.visible(caller, jobName);
        ScheduleRecord schedule = schedules.named(job, name);
        if (at == null) {
            throw new InvalidException("at", "is missing: the moment that is asked about, such as " + now);
        }
        Plan plan = plans.of(schedule);
        Schedule definition = plans.definition(schedule).orElseThrow();
        Optional<OccurrenceRecord> known = occurrences.findByScheduleIdAndAt(schedule.id(), at);
        Instant next = plan.next(at).map(Plan.Occurrence::at).orElse(null);
        Instant before = before(plan, at);
        if (known.isPresent()) {
            OccurrenceRecord record = known.get();
            String outcome = record.outcome().name().toLowerCase(Locale.ROOT);
            String why = record.reason().isEmpty() ? "" : ": " + record.reason();
            return new Answer(
                    at,
                    schedule.zone().getId(),
                    outcome,
                    "the occurrence at " + local(at, schedule) + " was " + outcome + why + " (run " + record.runNumber()
                            + ")",
                    record.runNumber(),
                    before,
                    next);
        }
        Optional<Plan.Occurrence> there =
                plan.next(at.minusNanos(1)).filter(one -> one.at().equals(at));
        if (there.isEmpty()) {
            return new Answer(
                    at,
                    schedule.zone().getId(),
                    "no-occurrence",
                    none(plan, definition, schedule, at),
                    null,
                    before,
                    next);
        }
        String sentence = at.isAfter(now)
                ? coming(there.get(), schedule, hold(job, jobs.current(job), at))
                : unknown(schedule, at);
        return new Answer(
                at,
                schedule.zone().getId(),
                at.isAfter(now) ? "coming" : "no-occurrence",
                sentence,
                null,
                before,
                next);
    }

    private Optional<Hold> hold(JobEntry job, Job definition, Instant at) {
        Set<String> lanes = definition.rules().lanes().keySet();
        List<Hold> on =
                holds.of(job, lanes).stream().filter(hold -> hold.isOn(at)).toList();
        return Holds.holding(on, job.name(), job.teamId(), lanes);
    }

    private static String coming(Plan.Occurrence one, ScheduleRecord schedule, Optional<Hold> held) {
        if (!schedule.isOn()) {
            return "it would start then, but the schedule is switched off";
        }
        return one.skipped()
                .map(why -> "it comes due then and will be skipped: " + why)
                .or(() -> held.map(hold -> hold.skips()
                        ? "it comes due then and will be skipped, on hold: " + hold.words()
                        : "it comes due then and will wait for " + hold.asWait().text()
                                + hold.until()
                                        .map(end -> ", until " + local(end, schedule))
                                        .orElse("")))
                .orElse("it will start then"
                        + one.movedFrom().map(day -> ", moved from " + day).orElse(""));
    }

    private static String unknown(ScheduleRecord schedule, Instant at) {
        if (!schedule.isOn() || schedule.wasOffAt(at)) {
            return "the schedule names that moment, and was switched off then";
        }
        return "the schedule names that moment as it is now, and nothing was written down then: it was made, or changed to"
                + " this, later";
    }

    private static String none(Plan plan, Schedule definition, ScheduleRecord schedule, Instant at) {
        ZonedDateTime local = at.atZone(schedule.zone());
        String rule = "'" + definition.when() + "'";
        boolean named = plan.timetable()
                .next(at.minusNanos(1), schedule.zone())
                .filter(at::equals)
                .isPresent();
        if (!named) {
            return plan.place().isZero()
                    ? rule + " does not name " + local(at, schedule)
                    : rule + " with its window of " + definition.window().toMinutes() + " min does not start at "
                            + local(at, schedule);
        }
        if (plan.from().filter(local.toLocalDate()::isBefore).isPresent()) {
            return "the schedule holds from " + plan.from().get() + " on";
        }
        if (plan.until().filter(local.toLocalDate()::isAfter).isPresent()) {
            return "the schedule held until " + plan.until().get();
        }
        String moved = definition.days().shift().effect();
        return plan.keep()
                .refusal(local.toLocalDateTime())
                .map(why -> why + "; the start " + moved)
                .orElse(rule + " does not start at " + local(at, schedule));
    }

    /** The last occurrence before a moment, looked for ever farther back. */
    private static Instant before(Plan plan, Instant at) {
        for (Duration back = Duration.ofHours(1); back.compareTo(NEAR) < 0; back = back.multipliedBy(6)) {
            Instant latest = null;
            Optional<Plan.Occurrence> one = plan.next(at.minus(back));
            for (int i = 0; i < 4_000 && one.isPresent() && one.get().at().isBefore(at); i++) {
                latest = one.get().at();
                one = plan.next(latest);
            }
            if (latest != null) {
                return latest;
            }
        }
        return null;
    }

    private static String local(Instant at, ScheduleRecord schedule) {
        return LOCAL.format(at.atZone(schedule.zone())) + " (" + schedule.zone() + ")";
    }
}
