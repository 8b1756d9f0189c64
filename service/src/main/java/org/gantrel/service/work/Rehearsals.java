package org.gantrel.service.work;

import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Supplier;
import java.util.stream.Collectors;
import org.gantrel.core.action.Action;
import org.gantrel.core.action.Command;
import org.gantrel.core.action.Outside;
import org.gantrel.core.chain.StepSpeech;
import org.gantrel.core.credential.Credential;
import org.gantrel.core.expression.Bindings;
import org.gantrel.core.expression.ExpressionException;
import org.gantrel.core.expression.PlannedTime;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Outputs;
import org.gantrel.core.job.Schedule;
import org.gantrel.core.job.Step;
import org.gantrel.core.parameter.Parameter;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.run.CauseKind;
import org.gantrel.core.text.Words;
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
import org.gantrel.service.settings.Settings;
import org.gantrel.service.sweep.Drawing;
import org.gantrel.service.work.ActionExecutor.Rehearsed;
import org.springframework.stereotype.Component;

/** Works out all that a run would do, for chosen values and a chosen time, and does nothing of it. */
@Component
class Rehearsals {

    private static final int ROWS_SHOWN = 5;
    private static final int ROWS_SAID = 20;
    private static final int WRITTEN_TRIED = 100_000;
    private static final int DRAWN_TRIED = 1_000;
    private static final long LEAST_SPACE = 100_000_000;
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
    private final Settings settings;
    private final CourseRehearsals courses;

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
            ByHand byHand,
            Settings settings,
            CourseRehearsals courses) {
        this.courses = courses;
        this.byHand = byHand;
        this.settings = settings;
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
    record Rehearsal(
            String actsAs,
            PlannedTime planned,
            Map<String, String> values,
            List<Sheet.Line> lines,
            Optional<CourseRehearsal> course) {
        boolean isFine() {
            return lines.stream().noneMatch(line -> line.found().kind() == Rehearsed.Kind.WRONG);
        }

        /** Whether all was tried that can go wrong before the work itself. */
        boolean isComplete() {
            return lines.stream().noneMatch(line -> line.found().kind() == Rehearsed.Kind.UNTRIED);
        }
    }

    /**
     * Rehearses a job.
     *
     * @param over the roster whose rows it would run over; its first row stands for all
     * @param at the planned time; nothing for now
     */
    Rehearsal of(JobEntry record, Map<String, String> given, Optional<String> over, Optional<Instant> at, Instant now) {
        return of(record, given, over, at, now, false, Map.of());
    }

    /**
     * The same.
     *
     * @param look whether programs are asked for their versions
     * @param suppose of a chain, how steps end, and what they give
     */
    Rehearsal of(
            JobEntry record,
            Map<String, String> given,
            Optional<String> over,
            Optional<Instant> at,
            Instant now,
            boolean look,
            Map<String, String> suppose) {
        Job job = jobs.current(record);
        PlannedTime planned = byHand.planned(job, at.orElse(now));
        var sheet = new Sheet(look);
        days(job, planned, sheet);
        var own = new LinkedHashMap<>(given);
        if (over.isPresent()) {
            Bindings known = runValues
                    .known(job.parameters().preset(given), planned)
                    .typed(job.parameters().kinds());
            Optional<Map<String, String>> row = rows(over.get(), job, given, known, sheet);
            if (row.isEmpty()) {
                // without a row nothing more is known
                return new Rehearsal("", planned, Map.of(), sheet.lines(), Optional.empty());
            }
            own.putAll(row.get());
        }
        Map<String, String> values = runValues.resolve(job, own, CauseKind.PERSON, planned);
        Optional<CourseRehearsal> course = over.isEmpty() && job instanceof Job.Chain chain
                ? Optional.of(courses.of(record, chain, values, planned, suppose))
                : Optional.empty();
        if (course.isEmpty() && !suppose.isEmpty()) {
            throw new InvalidException("suppose", job.name() + " is no chain: it has no steps to suppose anything of");
        }
        job(job, values, planned, sheet, course);
        course.ifPresent(found -> found.say(sheet));
        space(sheet);
        var shown = new LinkedHashMap<>(values);
        shown.replaceAll((name, value) ->
                job.parameters().named(name).filter(Parameter::isSecret).isPresent() ? RunValues.MASK : value);
        String actsAs = actors.identity(job);
        return new Rehearsal(actsAs, planned, shown, sheet.lines(), course);
    }

    /** Says which rows a sweep would take; the first of them goes on. */
    private Optional<Map<String, String>> rows(
            String name, Job job, Map<String, String> given, Bindings known, Sheet sheet) {
        RosterRecord roster = rosters.named(name)
                .orElseThrow(() -> new InvalidException("over", "there is no roster '" + name + "'"));
        try {
            boolean written = rosters.current(roster).source().isEmpty();
            Drawing.Glance glance = drawing.glance(roster, job, known, written ? WRITTEN_TRIED : DRAWN_TRIED);
            glance.rows().stream()
                    .limit(ROWS_SHOWN)
                    .forEach(row -> sheet.does(
                            "row " + row.place(),
                            row.values().entrySet().stream()
                                    .map(value -> value.getKey() + " = " + value.getValue())
                                    .collect(Collectors.joining(", "))));
            return tried(glance, job, given, known.planned(), sheet);
        } catch (InvalidException e) {
            sheet.wrong("rows", Runs.sentence(e));
        } catch (WorkFailed | ExpressionException | Refusal e) {
            sheet.wrong("rows", e.getMessage());
        }
        return Optional.empty();
    }

    /** Works out the values of every row; the first that can be taken goes on. */
    private Optional<Map<String, String>> tried(
            Drawing.Glance glance, Job job, Map<String, String> given, PlannedTime planned, Sheet sheet) {
        Map<String, String> first = null;
        int fine = 0;
        int firstPlace = 0;
        int said = 0;
        for (Drawing.Glanced row : glance.rows()) {
            var own = new LinkedHashMap<>(given);
            own.putAll(row.values());
            try {
                runValues.resolve(job, own, CauseKind.SWEEP, planned);
                fine++;
                if (first == null) {
                    first = row.values();
                    firstPlace = row.place();
                }
            } catch (InvalidException e) {
                if (said++ < ROWS_SAID) {
                    sheet.wrong("row " + row.place(), Runs.sentence(e));
                }
            }
        }
        int all = glance.rows().size();
        if (said > ROWS_SAID) {
            sheet.wrong("rows", (said - ROWS_SAID) + " more that could not be taken");
        }
        if (glance.more()) {
            sheet.untried("rows", "those after the first " + all + ", which alone were looked at");
        }
        sheet.does(
                "rows",
                all == 0
                        ? "none; nothing would be done"
                        : fine + " of " + Words.count(all, "row") + " would begin"
                                + (first == null ? "" : "; what follows is for row " + firstPlace));
        return all == 0 ? Optional.of(Map.of()) : Optional.ofNullable(first);
    }

    private void job(
            Job job, Map<String, String> values, PlannedTime planned, Sheet sheet, Optional<CourseRehearsal> course) {
        Bindings known = runValues.known(values, planned).typed(job.parameters().kinds());
        sheet.hide(job, values);
        try {
            RulesRehearsal.say(job.rules(), known, sheet);
        } catch (ExpressionException e) {
            sheet.wrong("gate", e.getMessage());
        }
        if (job instanceof Job.Task task) {
            task(task, known, sheet);
        } else if (job instanceof Job.Chain chain) {
            chain.steps().forEach(step -> step(step, known, sheet, course));
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
                look(task, action, actor, sheet.isAsked()).forEach(sheet::add);
            }
        } catch (ExpressionException e) {
            sheet.wrong("expression", e.getMessage());
        }
    }

    private void step(Step step, Bindings before, Sheet sheet, Optional<CourseRehearsal> course) {
        if (sheet.isFull()) {
            return;
        }
        Sheet inner = sheet.under(step.name());
        Optional<String> notRun = course.flatMap(found -> found.notRun(step));
        inner.does(
                "job",
                step.doesInWords() + ", " + step.linksInWords()
                        + notRun.map(why -> "; does not run: " + why).orElse(""));
        if (step.runs().isEmpty() || notRun.isPresent()) {
            return;
        }
        Bindings known = course.map(found -> before.after(found.facts())).orElse(before);
        Optional<String> later = later(step, known);
        if (later.isPresent()) {
            inner.untried("values", later.get());
            return;
        }
        try {
            Map<String, String> with = known.fill(step.with());
            with.forEach(inner::does);
            Job job = jobs.named(step.job())
                    .filter(found -> !found.isRetired())
                    .map(jobs::current)
                    .orElseThrow(() -> new InvalidException("job", "there is no job '" + step.job() + "' any more"));
            if (!step.over().isEmpty()) {
                inner.untried(
                        "rows", "those of " + step.over() + " are tried by rehearsing " + step.job() + " over it");
                return;
            }
            job(
                    step.own().over(job),
                    runValues.resolve(job, with, CauseKind.CHAIN, known.planned()),
                    known.planned(),
                    inner,
                    Optional.empty());
        } catch (InvalidException e) {
            inner.wrong("job", Runs.sentence(e));
        } catch (ExpressionException e) {
            inner.wrong("job", e.getMessage());
        }
        if (sheet.isFull()) {
            inner.untried("job", "there is more than is shown here");
        }
    }

    /** What a step is handed that is known only when earlier steps have run; nothing where all is known. */
    private static Optional<String> later(Step step, Bindings known) {
        for (StepSpeech.Said said : StepSpeech.of(step)) {
            if (said.field().equals("with") && !said.aliases().isEmpty()) {
                try {
                    known.fill(said.text());
                } catch (ExpressionException e) {
                    return Optional.of(said.text() + " is known only when earlier steps have run");
                }
            }
        }
        return Optional.empty();
    }

    /** Logs and outputs need room. */
    private void space(Sheet sheet) {
        long free = settings.data().toFile().getUsableSpace();
        if (free < LEAST_SPACE) {
            sheet.wrong("space", "the data folder has " + Words.bytes(free) + " left for logs and outputs");
        }
    }

    /** What the program says of its version, which is asked for only where somebody wants to know. */
    private Rehearsed shown(Job.Task task, Command command, boolean asked) {
        return asked
                ? commands.version(task, command)
                        .map(text -> Rehearsed.does("version", text))
                        .orElse(Rehearsed.untried("version", "on another host it is not asked for"))
                : Rehearsed.untried("version", "it is asked for on demand: " + String.join(" ", command.shows()));
    }

    /** What is found out without doing the work. It asks other systems, and nothing of the records. */
    private List<Rehearsed> look(Job.Task task, Action action, Optional<Credential> actor, boolean asked) {
        if (action instanceof Outside outside) {
            return List.of(Rehearsed.does(
                    "outside",
                    "another machine does it; its start has to be told within " + Words.duration(outside.startWithin())
                            + " of its planned time"));
        }
        if (action instanceof Command command) {
            var found = new ArrayList<Rehearsed>();
            SourceRehearsal.look(command, workers.rehearsing(task, actor), found);
            Optional<String> complaint = commands.complaint(task, command, actor);
            if (complaint.isPresent()) {
                found.add(Rehearsed.wrong("program", complaint.get()));
                return found;
            }
            if (!command.bringsProgram()) {
                found.add(Rehearsed.fine("program", "is there and may be executed"));
            }
            if (!command.shows().isEmpty() && !command.bringsProgram()) {
                found.add(shown(task, command, asked));
            }
            if (command.shellLine() >= 0) {
                found.add(Rehearsed.untried("shell", "the programs that the line names are looked for when it runs"));
            }
            task.outputs().files().stream()
                    .map(Outputs.Output::name)
                    .filter(name ->
                            name.startsWith("/") || List.of(name.split("/")).contains(".."))
                    .forEach(name ->
                            found.add(Rehearsed.wrong("output", "'" + name + "' would leave the folder of outputs")));
            return found;
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
                    .fill(runValues
                            .known(runValues.resolve(job, preset, CauseKind.SCHEDULE, planned), planned)
                            .typed(job.parameters().kinds()));
            return () -> look(task, action, actor, false).stream()
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
