package org.gantrel.service.work;

import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Supplier;
import java.util.stream.Collectors;
import org.gantrel.core.action.Action;
import org.gantrel.core.action.Command;
import org.gantrel.core.credential.Credential;
import org.gantrel.core.expression.Bindings;
import org.gantrel.core.expression.ExpressionException;
import org.gantrel.core.expression.PlannedTime;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Schedule;
import org.gantrel.core.job.Step;
import org.gantrel.core.parameter.Parameter;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.run.CauseKind;
import org.gantrel.service.calendar.Calendars;
import org.gantrel.service.credential.SignIn;
import org.gantrel.service.execution.Actors;
import org.gantrel.service.execution.CommandRehearsal;
import org.gantrel.service.job.JobEntry;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.roster.RosterRecord;
import org.gantrel.service.roster.Rosters;
import org.gantrel.service.run.ByHand;
import org.gantrel.service.run.RunValues;
import org.gantrel.service.run.Runs;
import org.gantrel.service.sweep.Drawing;
import org.gantrel.service.work.ActionExecutor.Rehearsed;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Works out all that a run would do, for chosen values and a chosen time, and does nothing of it. */
@Component
@Transactional
class Rehearsals {

    private static final int ROWS_SHOWN = 5;
    private static final int STEPS_LOOKED_AT = 20;

    private final Jobs jobs;
    private final RunValues runValues;
    private final Actors actors;
    private final Calendars calendars;
    private final CommandRehearsal commands;
    private final TaskExecutor workers;
    private final Rosters rosters;
    private final Drawing drawing;
    private final SignIn signIn;
    private final ByHand byHand;

    Rehearsals(
            Jobs jobs,
            RunValues runValues,
            Actors actors,
            Calendars calendars,
            CommandRehearsal commands,
            TaskExecutor workers,
            Rosters rosters,
            Drawing drawing,
            SignIn signIn,
            ByHand byHand) {
        this.byHand = byHand;
        this.signIn = signIn;
        this.rosters = rosters;
        this.drawing = drawing;
        this.jobs = jobs;
        this.runValues = runValues;
        this.actors = actors;
        this.calendars = calendars;
        this.commands = commands;
        this.workers = workers;
    }

    /** What a run would do. */
    record Rehearsal(String actsAs, PlannedTime planned, Map<String, String> values, List<Sheet.Line> lines) {
        boolean isFine() {
            return lines.stream().noneMatch(line -> line.found().kind() == Rehearsed.Kind.WRONG);
        }
    }

    /**
     * Rehearses a job.
     *
     * @param over the roster whose rows it would run over; its first row stands for all
     * @param at the planned time; nothing for now
     */
    Rehearsal of(JobEntry record, Map<String, String> given, Optional<String> over, Optional<Instant> at, Instant now) {
        Job job = jobs.current(record);
        PlannedTime planned = byHand.planned(job, at.orElse(now));
        var sheet = new Sheet();
        days(job, planned, sheet);
        var own = new LinkedHashMap<>(given);
        if (over.isPresent()) {
            own.putAll(rows(over.get(), job, runValues.known(job.parameters().preset(given), planned), sheet));
            if (sheet.hasWrong()) {
                // without a row nothing more is known
                return new Rehearsal("", planned, Map.of(), sheet.lines());
            }
        }
        Map<String, String> values = runValues.resolve(job, own, CauseKind.PERSON, planned);
        job(job, values, planned, sheet);
        var shown = new LinkedHashMap<>(values);
        shown.replaceAll((name, value) ->
                job.parameters().named(name).filter(Parameter::isSecret).isPresent() ? RunValues.MASK : value);
        String actsAs = job instanceof Job.Task task ? actors.identity(task) : "";
        return new Rehearsal(actsAs, planned, shown, sheet.lines());
    }

    /** Says which rows a sweep would take; the first of them goes on. */
    private Map<String, String> rows(String name, Job job, Bindings known, Sheet sheet) {
        RosterRecord roster = rosters.named(name)
                .orElseThrow(() -> new InvalidException("over", "there is no roster '" + name + "'"));
        try {
            Drawing.Glance glance = drawing.glance(roster, job, known, ROWS_SHOWN);
            int place = 0;
            for (Map<String, String> row : glance.rows()) {
                sheet.does(
                        "row " + ++place,
                        row.entrySet().stream()
                                .map(value -> value.getKey() + " = " + value.getValue())
                                .collect(Collectors.joining(", ")));
            }
            sheet.does(
                    "rows",
                    glance.rows().isEmpty()
                            ? "none; nothing would be done"
                            : (glance.more() ? "these and more" : "these are all") + "; what follows is for row 1");
            return glance.rows().isEmpty() ? Map.of() : glance.rows().get(0);
        } catch (InvalidException e) {
            sheet.wrong("rows", Runs.sentence(e));
        } catch (WorkFailed | ExpressionException | Refusal e) {
            sheet.wrong("rows", e.getMessage());
        }
        return Map.of();
    }

    private void job(Job job, Map<String, String> values, PlannedTime planned, Sheet sheet) {
        Bindings known = runValues.known(values, planned);
        sheet.hide(job, values);
        try {
            RulesRehearsal.say(job.rules(), known, sheet);
        } catch (ExpressionException e) {
            sheet.wrong("gate", e.getMessage());
        }
        if (job instanceof Job.Task task) {
            task(task, known, sheet);
        } else if (job instanceof Job.Chain chain) {
            chain.steps().forEach(step -> step(step, known, sheet));
        }
    }

    private void task(Job.Task task, Bindings known, Sheet sheet) {
        List<String> complaints = actors.complaints(task);
        complaints.forEach(complaint -> sheet.wrong("identity", complaint));
        try {
            Action action = task.action().fill(known);
            task.command().ifPresent(command -> commands.lines(task, known).forEach(sheet::does));
            Optional<Credential> actor = complaints.isEmpty() ? actors.openToRehearse(task) : Optional.empty();
            if (complaints.isEmpty() || task.command().isEmpty()) {
                look(task, action, actor).forEach(sheet::add);
            }
        } catch (ExpressionException e) {
            sheet.wrong("expression", e.getMessage());
        }
    }

    private void step(Step step, Bindings known, Sheet sheet) {
        if (sheet.isFull()) {
            return;
        }
        String after = step.after().isEmpty()
                ? "at once"
                : "after " + String.join(" and ", step.after()) + " on "
                        + step.on().word();
        Sheet inner = sheet.under(step.name());
        inner.does("job", step.job() + ", " + after);
        try {
            Map<String, String> with = known.fill(step.with());
            with.forEach(inner::does);
            Job job = jobs.named(step.job())
                    .filter(found -> !found.isRetired())
                    .map(jobs::current)
                    .orElseThrow(() -> new InvalidException("job", "there is no job '" + step.job() + "' any more"));
            job(job, runValues.resolve(job, with, CauseKind.CHAIN, known.planned()), known.planned(), inner);
        } catch (InvalidException e) {
            inner.wrong("job", Runs.sentence(e));
        } catch (ExpressionException e) {
            inner.wrong("job", e.getMessage());
        }
        if (sheet.isFull()) {
            inner.does("job", "there is more than is shown here");
        }
    }

    /** What is found out without doing the work. It asks other systems, and nothing of the records. */
    private List<Rehearsed> look(Job.Task task, Action action, Optional<Credential> actor) {
        if (action instanceof Command command) {
            return List.of(commands.complaint(task, command, actor)
                    .map(text -> Rehearsed.wrong("program", text))
                    .orElse(Rehearsed.fine("program", "is there and may be executed")));
        }
        return workers.rehearse(task, action, actor);
    }

    /**
     * Prepares what can be found out of a job that is not yet saved: with the values of its first schedule and its
     * defaults, and where those are not enough, only whether what it acts as can sign in.
     *
     * @return looks and says what would go wrong; it may take its time, and needs no transaction
     */
    Supplier<List<Rehearsed>> before(Job job, Instant now) {
        Map<String, String> preset =
                job.schedules().stream().findFirst().map(Schedule::with).orElse(Map.of());
        return before(job, preset, byHand.planned(job, now));
    }

    private Supplier<List<Rehearsed>> before(Job job, Map<String, String> preset, PlannedTime planned) {
        if (job instanceof Job.Chain chain) {
            return stepsBefore(chain, preset, planned);
        }
        Job.Task task = (Job.Task) job;
        List<String> complaints = actors.complaints(task);
        if (!complaints.isEmpty()) {
            return () -> complaints.stream()
                    .map(complaint -> Rehearsed.wrong("identity", complaint))
                    .toList();
        }
        Optional<Credential> actor = actors.openToRehearse(task);
        try {
            Action action = task.action()
                    .fill(runValues.known(runValues.resolve(job, preset, CauseKind.SCHEDULE, planned), planned));
            return () -> look(task, action, actor).stream()
                    .filter(line -> line.kind() == Rehearsed.Kind.WRONG)
                    .toList();
        } catch (InvalidException | ExpressionException e) {
            // some values come with the start only
            return () ->
                    actor.flatMap(signIn::complaint).map(complaint -> Rehearsed.wrong("sign-in", complaint)).stream()
                            .toList();
        }
    }

    /** The jobs of the steps as they are now; those that are saved in the same breath are looked at by themselves. */
    private Supplier<List<Rehearsed>> stepsBefore(Job.Chain chain, Map<String, String> preset, PlannedTime planned) {
        Map<String, Supplier<List<Rehearsed>>> looks = new LinkedHashMap<>();
        for (Step step : chain.steps()) {
            // a chain within this one was looked at when it was saved
            Optional<Job> job = jobs.named(step.job()).map(jobs::current).filter(Job.Task.class::isInstance);
            if (job.isPresent() && looks.size() < STEPS_LOOKED_AT) {
                looks.put(step.name(), before(job.get(), given(chain, preset, step, planned), planned));
            }
        }
        return () -> looks.entrySet().stream()
                .flatMap(look -> look.getValue().get().stream()
                        .map(line -> Rehearsed.wrong("step " + look.getKey(), line.text())))
                .toList();
    }

    /** What a step hands to its job, or nothing where that is known at the start only. */
    private Map<String, String> given(Job chain, Map<String, String> preset, Step step, PlannedTime planned) {
        try {
            return runValues
                    .known(runValues.resolve(chain, preset, CauseKind.SCHEDULE, planned), planned)
                    .fill(step.with());
        } catch (InvalidException | ExpressionException e) {
            return Map.of();
        }
    }

    /** What the calendars of the schedules say of the planned day. */
    private void days(Job job, PlannedTime planned, Sheet sheet) {
        for (Schedule schedule : job.schedules()) {
            String name = schedule.days().calendar();
            calendars.days(name).ifPresent(days -> {
                boolean open = days.holds(planned.date());
                sheet.does(
                        "calendar",
                        planned.date() + (open ? " is a day of " : " is no day of ") + name + ", to which the schedule "
                                + schedule.name() + " keeps"
                                + (open
                                        ? ""
                                        : "; a start on it "
                                                + schedule.days().shift().effect()));
            });
        }
    }
}
