package org.gantrel.service.job;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.access.Deed;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Step;
import org.gantrel.core.parameter.Parameter;
import org.gantrel.core.parameter.Parameters;
import org.gantrel.core.run.OutcomeRule;
import org.gantrel.core.text.SafePattern;
import org.gantrel.service.team.Caller;

/**
 * A job with all that is known of it.
 *
 * @param definition the definition as it was written
 * @param usual how long a good run usually takes; missing until there were some
 * @param longAfter from when on a run is said to be unusually long, as the job says or as is learnt; missing until that is known
 * @param triggers the events that start it, in words
 * @param usedBy the other jobs that speak of it, each with how, as far as the caller may see them
 * @param warnings what will probably go wrong when it runs here
 * @param mayDo what the caller may do with it
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record JobView(
        String name,
        String team,
        String kind,
        String about,
        int revision,
        boolean retired,
        List<ParameterView> parameters,
        ActionView does,
        String actsAs,
        OutcomeView outcome,
        Duration timeLimit,
        RulesView rules,
        List<StepView> steps,
        List<ScheduleFacts.ScheduleView> schedules,
        List<String> triggers,
        List<String> usedBy,
        List<String> mailOnFailure,
        String definition,
        Duration usual,
        Duration longAfter,
        List<String> warnings,
        List<String> mayDo) {

    /**
     * An input that the job declares.
     *
     * @param now what its default is for a start by hand now
     * @param nowWords what that is against today, such as "the day before"
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record ParameterView(
            String name,
            String type,
            String fallback,
            List<String> of,
            String pattern,
            String least,
            String most,
            String about,
            boolean ask,
            String now,
            String nowWords) {
        static ParameterView of(Parameter parameter, Parameters.Default now) {
            return new ParameterView(
                    parameter.name(),
                    parameter.type().word(),
                    parameter.fallback().orElse(null),
                    parameter.allowed().of(),
                    parameter.allowed().pattern().map(SafePattern::pattern).orElse(null),
                    parameter.allowed().least().orElse(null),
                    parameter.allowed().most().orElse(null),
                    parameter.about(),
                    parameter.ask(),
                    now == null ? null : now.value(),
                    now == null || now.words().isEmpty() ? null : now.words());
        }
    }

    /**
     * What a task does.
     *
     * @param command the command's arguments as they are written; missing for other kinds of work
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record ActionView(String kind, List<String> command, String in, Map<String, String> environment) {
        static ActionView of(Job.Task task) {
            return task.command()
                    .map(command ->
                            new ActionView("command", command.arguments(), command.folder(), command.environment()))
                    .orElse(new ActionView(task.action().kind(), null, null, null));
        }
    }

    /** What counts as a failure. */
    record OutcomeView(
            List<Integer> succeededCodes,
            List<Integer> warnedCodes,
            List<String> failedBy,
            List<String> warnedBy,
            String errorStream,
            String testResults) {
        static OutcomeView of(OutcomeRule rule) {
            return new OutcomeView(
                    rule.exit().succeeded().stream().sorted().toList(),
                    rule.exit().warned().stream().sorted().toList(),
                    rule.failedBy().stream().map(SafePattern::pattern).toList(),
                    rule.warnedBy().stream().map(SafePattern::pattern).toList(),
                    rule.errorStream().word(),
                    rule.testResults());
        }
    }

    /**
     * A step of a chain.
     *
     * @param kind {@code job}, {@code sweep}, {@code pause}, {@code approval} or {@code meeting}
     * @param linksInWords what leads to it, for people
     * @param when a condition that has to hold beside
     * @param does what it does, for people
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record StepView(
            String step,
            String kind,
            String job,
            String over,
            List<String> after,
            String on,
            List<StepLink> links,
            String linksInWords,
            String when,
            String does,
            boolean last,
            boolean matters,
            boolean goesOn,
            Map<String, String> with) {
        static StepView of(Step step) {
            return new StepView(
                    step.name(),
                    step.kind(),
                    step.job().isEmpty() ? null : step.job(),
                    step.over().isEmpty() ? null : step.over(),
                    step.after(),
                    step.links().isEmpty()
                            ? Step.FollowsOn.SUCCESS.word()
                            : step.links().get(0).on().word(),
                    step.links().stream()
                            .map(link -> new StepLink(
                                    link.after(), link.on().word(), link.when().isEmpty() ? null : link.when()))
                            .toList(),
                    step.linksInWords(),
                    step.when().isEmpty() ? null : step.when(),
                    step.doesInWords(),
                    step.last(),
                    step.matters(),
                    step.goesOn(),
                    step.with());
        }
    }

    /** What leads to a step. @param when a condition that has to hold beside */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record StepLink(String after, String on, String when) {}

    static JobView of(
            Caller caller,
            JobEntry record,
            Job job,
            String definition,
            List<ScheduleFacts.ScheduleView> schedules,
            List<String> usedBy,
            Map<String, Parameters.Default> defaults,
            RunFacts facts,
            List<String> warnings) {
        Optional<Duration> usual = facts.usual(record.id());
        Job.Task task = job instanceof Job.Task found ? found : null;
        Job.Chain chain = job instanceof Job.Chain found ? found : null;
        return new JobView(
                record.name(),
                record.team(),
                record.kind(),
                record.about(),
                record.revision(),
                record.isRetired(),
                job.parameters().all().stream()
                        .map(parameter -> ParameterView.of(parameter, defaults.get(parameter.name())))
                        .toList(),
                task == null ? null : ActionView.of(task),
                task == null || task.identity().credential().isEmpty()
                        ? null
                        : task.identity().credential(),
                task == null || task.command().isEmpty() ? null : OutcomeView.of(task.outcome()),
                job.timeLimit().orElse(null),
                RulesView.of(job),
                chain == null ? null : chain.steps().stream().map(StepView::of).toList(),
                schedules,
                job.triggers().isEmpty()
                        ? null
                        : job.triggers().stream()
                                .map(trigger -> trigger.name() + ": " + trigger.words())
                                .toList(),
                usedBy.isEmpty() ? null : usedBy,
                job.mailOnFailure(),
                definition,
                usual.orElse(null),
                job.rules().limits().longFrom(usual, facts.known(record.id())).orElse(null),
                warnings,
                caller.deedsIn(record.team()).stream().map(Deed::word).toList());
    }
}
