package org.gantrel.service.job;

import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import org.gantrel.core.access.Deed;
import org.gantrel.core.action.Command;
import org.gantrel.core.action.Safety;
import org.gantrel.core.chain.StepGives;
import org.gantrel.core.chain.StepSpeech;
import org.gantrel.core.definition.Definition;
import org.gantrel.core.expression.ExpressionException;
import org.gantrel.core.expression.StepFacts;
import org.gantrel.core.expression.StepFacts.Shape;
import org.gantrel.core.expression.Template;
import org.gantrel.core.expression.ValueKind;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Outputs;
import org.gantrel.core.job.Step;
import org.gantrel.core.parameter.Parameter;
import org.gantrel.core.parameter.ParameterType;
import org.gantrel.core.problem.Problem;
import org.gantrel.core.text.Glob;
import org.gantrel.core.text.Nearest;
import org.gantrel.service.credential.Credentials;
import org.gantrel.service.lane.Lanes;
import org.gantrel.service.roster.Rosters;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Teams;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Checks the steps of chains against what is there: jobs and what they give, rosters, credentials, lanes, teams. */
@Component
@Transactional(readOnly = true)
class StepChecks {

    private final Jobs jobs;
    private final Teams teams;
    private final Credentials credentials;
    private final Rosters rosters;
    private final Lanes lanes;

    StepChecks(Jobs jobs, Teams teams, Credentials credentials, Rosters rosters, Lanes lanes) {
        this.jobs = jobs;
        this.teams = teams;
        this.credentials = credentials;
        this.rosters = rosters;
        this.lanes = lanes;
    }

    List<Problem> problems(Caller caller, Job.Chain chain, Definition definition, JobChecks.Together together) {
        return new Look(caller, chain, definition, together).all();
    }

    /** One look at one chain. */
    private final class Look {
        private final Caller caller;
        private final Job.Chain chain;
        private final Definition definition;
        private final JobChecks.Together together;
        private final Map<String, Job> beside = new HashMap<>();
        private final Map<String, Optional<Job>> found = new HashMap<>();
        private final List<Problem> problems = new ArrayList<>();
        private final List<String> secrets;

        private Look(Caller caller, Job.Chain chain, Definition definition, JobChecks.Together together) {
            this.caller = caller;
            this.chain = chain;
            this.definition = definition;
            this.together = together;
            this.secrets = chain.parameters().all().stream()
                    .filter(Parameter::isSecret)
                    .map(Parameter::name)
                    .toList();
            together.jobs().forEach(other -> beside.put(other.job().name(), other.job()));
        }

        private List<Problem> all() {
            chain.steps().forEach(step -> found.put(step.name(), step.runs().flatMap(runs -> find(runs.job()))));
            for (Step step : chain.steps()) {
                if (step.work() instanceof Step.Runs runs) {
                    job(step, runs);
                } else if (step.work() instanceof Step.Approval approval) {
                    approval(step, approval);
                } else if (step.work() instanceof Step.Meeting meeting) {
                    meeting(step, meeting);
                }
                speech(step);
            }
            parts();
            return problems;
        }

        private void complain(Step step, String field, String message) {
            complain(step, field, field, message);
        }

        private void complain(Step step, String field, String where, String message) {
            List<Step> list = chain.steps().stream()
                    .filter(each -> each.last() == step.last())
                    .toList();
            problems.add(JobChecks.problem(
                    definition,
                    "steps." + step.name() + "." + field,
                    (step.last() ? "finally[" : "steps[") + list.indexOf(step) + "]." + where,
                    message));
        }

        private void job(Step step, Step.Runs runs) {
            Optional<Job> job = found.get(step.name());
            if (job.isEmpty()) {
                List<Step> list = chain.steps().stream()
                        .filter(each -> each.last() == step.last())
                        .toList();
                problems.add(JobChecks.problem(
                        definition,
                        "steps." + step.name(),
                        (step.last() ? "finally[" : "steps[") + list.indexOf(step) + "].job",
                        "there is no job '" + runs.job() + "'" + Nearest.hint(runs.job(), known())));
                return;
            }
            values(step, job.get());
            own(step, job.get());
            files(step);
            if (!runs.over().isEmpty() && runs.rowsOf().isEmpty()) {
                var known = new ArrayList<>(rosters.names(caller));
                known.addAll(together.rosters());
                if (!known.contains(runs.over())) {
                    complain(
                            step,
                            "over",
                            "there is no roster '" + runs.over() + "'" + Nearest.hint(runs.over(), known));
                }
            }
        }

        private List<String> known() {
            var known = new ArrayList<>(beside.keySet());
            jobs.all(caller).forEach(record -> known.add(record.name()));
            return known;
        }

        private void own(Step step, Job job) {
            Step.Own own = step.own();
            if (!(job instanceof Job.Task task)) {
                own.credential()
                        .ifPresent(name -> complain(step, "acts-as", job.name() + " is a chain, which acts as nobody"));
                own.retry()
                        .ifPresent(retry -> complain(
                                step,
                                "retry",
                                job.name() + " is a chain; its steps are tried again, or it goes on where it failed"));
                return;
            }
            // the job's own team decides what its work acts as: it is that team's people who can change the work
            own.credential()
                    .flatMap(name -> credentials.complaint(caller, name, task.team(), task.name()))
                    .ifPresent(message -> complain(step, "acts-as", message));
            own.lanes().ifPresent(taken -> lanes.complaints(caller, chain.team(), taken, together.lanes())
                    .forEach(message -> complain(step, "lanes", message)));
            own.retry()
                    .filter(retry -> task.rules().retry().tries() == 1)
                    .flatMap(retry -> Safety.unsafe(task.action()))
                    .ifPresent(what -> complain(
                            step,
                            "retry",
                            what
                                    + " may do its work twice when it is tried again; only the job itself can say that this is"
                                    + " fine (retry with repeatable: yes)"));
        }

        /** A command alone is given files, and what is to be given has to be what an earlier command leaves. */
        private void files(Step step) {
            if (step.files().isEmpty()) {
                return;
            }
            if (!(found.get(step.name()).orElse(null) instanceof Job.Task task)
                    || !(task.action() instanceof Command)) {
                complain(
                        step,
                        "files",
                        step.job() + " runs no command, and only commands are given files; a mail"
                                + " attaches outputs of earlier steps by attach: [ STEP:OUTPUT ]");
                return;
            }
            step.files().forEach((variable, output) -> chain.steps().stream()
                    .filter(other -> other.name().equals(output.step()))
                    .flatMap(other -> found.getOrDefault(other.name(), Optional.empty()).stream())
                    .forEach(job -> missing(job, output.name())
                            .ifPresent(message -> complain(step, "files." + variable, message))));
        }

        private static Optional<String> missing(Job job, String name) {
            if (!(job instanceof Job.Task task)) {
                return Optional.of(job.name() + " is a chain, which leaves no outputs of its own");
            }
            List<Outputs.Output> outputs = task.outputs().files();
            List<String> names = outputs.stream().map(Outputs.Output::name).toList();
            boolean unknown =
                    task.action() instanceof Command && outputs.stream().noneMatch(output -> mayBe(output, name));
            return unknown
                    ? Optional.of(job.name() + " keeps no output '" + name + "'"
                            + (names.isEmpty()
                                    ? "; its outputs: say what it keeps"
                                    : "; there are " + String.join(", ", names) + Nearest.hint(name, names)))
                    : Optional.empty();
        }

        private static boolean mayBe(Outputs.Output output, String name) {
            String called = output.name();
            return Template.of(called).hasExpressions()
                    || Template.of(output.path()).hasExpressions()
                    || name.equals(called)
                    || name.startsWith(called + "/")
                    || fits(output.path(), name);
        }

        private static boolean fits(String path, String name) {
            try {
                return Glob.of(path).matches(name);
            } catch (IllegalArgumentException e) {
                // it is refused at a save nowadays
                return false;
            }
        }

        private void approval(Step step, Step.Approval approval) {
            if (teams.named(approval.team()).isEmpty()) {
                complain(step, "approval", teams.none(caller, approval.team()));
            }
        }

        private void meeting(Step step, Step.Meeting meeting) {
            for (String party : meeting.parties()) {
                Optional<Job> other = find(party);
                if (party.equals(chain.name())) {
                    complain(step, "with-chains", "the chain cannot meet itself; the others are named");
                } else if (other.isEmpty()) {
                    complain(step, "with-chains", "there is no chain '" + party + "'" + Nearest.hint(party, known()));
                } else if (!(other.get() instanceof Job.Chain comes)
                        || comes.steps().stream()
                                .noneMatch(each -> each.work() instanceof Step.Meeting point
                                        && point.name().equals(meeting.name()))) {
                    complain(step, "with-chains", party + " has no step that comes to the meeting " + meeting.name());
                }
            }
        }

        private void values(Step step, Job job) {
            job.parameters()
                    .complaints(step.with())
                    .forEach(wrong -> problems.add(JobChecks.problem(
                            definition,
                            "steps." + step.name() + "." + wrong.field(),
                            where(step, wrong.field()),
                            wrong.message())));
            for (Parameter parameter : job.parameters().all()) {
                String given = step.with().getOrDefault(parameter.name(), "");
                String complaint = complaint(step, job, parameter, given);
                if (!complaint.isEmpty()) {
                    complain(step, "with." + parameter.name(), complaint);
                }
            }
        }

        private String where(Step step, String field) {
            List<Step> list = chain.steps().stream()
                    .filter(each -> each.last() == step.last())
                    .toList();
            return (step.last() ? "finally[" : "steps[") + list.indexOf(step) + "].with." + field;
        }

        private String complaint(Step step, Job job, Parameter parameter, String given) {
            if (parameter.isSecret() && !given.isEmpty() && !Template.of(given).hasExpressions()) {
                return "is a secret, which a definition cannot hold; a parameter of the chain can pass it on: ${"
                        + parameter.name() + "}";
            }
            if (!parameter.isSecret() && Template.speaksOf(given, secrets)) {
                return "speaks of a secret, and " + parameter.name() + " of " + job.name() + " is none";
            }
            boolean isGiven = step.with().containsKey(parameter.name());
            if (parameter.fallback().isEmpty() && !isGiven && step.over().isEmpty()) {
                return "is missing: the job " + job.name() + " has no default for it";
            }
            return misfit(parameter, given).orElse("");
        }

        /** A result that is handed over as it is has to be of the type that the parameter takes. */
        private Optional<String> misfit(Parameter parameter, String given) {
            if (!Template.isFilled(given) || !Template.of(given).isOneExpression()) {
                return Optional.empty();
            }
            String expression = Template.of(given).expressions().get(0);
            String[] parts = expression.split("\\.", 3);
            if (parts.length < 3 || !parts[1].equals("values")) {
                return Optional.empty();
            }
            return shape(parts[0])
                    .flatMap(Shape::values)
                    .flatMap(kinds -> Optional.ofNullable(kinds.get(parts[2])))
                    .filter(kind -> !fits(kind, parameter.type()))
                    .map(kind -> "takes " + parameter.type().allowed + ", and " + expression + " is "
                            + kind.name().toLowerCase(java.util.Locale.ROOT).replace('_', ' '));
        }

        private static boolean fits(ValueKind kind, ParameterType type) {
            return kind == type.kind() || kind == ValueKind.TEXT || type.kind() == ValueKind.TEXT;
        }

        private Optional<Shape> shape(String alias) {
            return chain.steps().stream()
                    .filter(step -> step.alias().equals(alias))
                    .findFirst()
                    .map(step -> StepGives.shape(step, found.get(step.name())));
        }

        /** What is said of results, against what the jobs declare to give; all else was checked when it was read. */
        private void speech(Step step) {
            StepFacts.Shapes shapes = this::shape;
            for (StepSpeech.Said said : StepSpeech.of(step)) {
                // what is wrong whatever the jobs give was found when it was read
                if (wrong(said, alias -> shape(alias).map(shape -> Shape.ANY)).isEmpty()) {
                    wrong(said, shapes).ifPresent(message -> complain(step, said.field(), message));
                }
                boolean shown = !said.field().equals("with") && Template.speaksOf("${" + said.text() + "}", secrets);
                if (shown) {
                    complain(step, said.field(), "speaks of a secret, and everybody sees it");
                }
            }
        }

        private Optional<String> wrong(StepSpeech.Said said, StepFacts.Shapes shapes) {
            try {
                said.check(chain.parameters().names(), shapes);
                return Optional.empty();
            } catch (ExpressionException e) {
                return Optional.of(e.getMessage());
            }
        }

        /** Who saves a chain has its schedules start all that is in it, what they cannot see among it. */
        private void parts() {
            // a step that names a job they cannot see has been told of as one that is not there
            Set<String> own = chain.steps().stream().map(Step::job).collect(Collectors.toSet());
            Collection<Job> parts = chain.parts(name -> own.contains(name) ? find(name) : any(name));
            if (parts.stream().anyMatch(part -> part.name().equals(chain.name()))) {
                problems.add(JobChecks.problem(definition, "steps", "steps", "the chain would run itself"));
            }
            parts.stream()
                    .filter(part -> !caller.may(Deed.START_RUNS, part.team()))
                    .map(part -> caller.may(Deed.SEE_JOBS, part.team())
                            ? "the job " + part.name() + ", which takes the role "
                                    + Deed.START_RUNS.least().word() + " in the team " + part.team()
                            : "a job that you may not start, in a chain within it")
                    .distinct()
                    .forEach(what -> problems.add(
                            JobChecks.problem(definition, "steps", "steps", "the chain would start " + what)));
        }

        private Optional<Job> find(String name) {
            return any(name).filter(job -> beside.containsKey(name) || caller.may(Deed.SEE_JOBS, job.team()));
        }

        private Optional<Job> any(String name) {
            return beside.containsKey(name)
                    ? Optional.of(beside.get(name))
                    : jobs.named(name).filter(record -> !record.isRetired()).map(jobs::current);
        }
    }
}
