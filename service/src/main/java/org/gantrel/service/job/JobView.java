package org.gantrel.service.job;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import org.gantrel.core.access.Deed;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Step;
import org.gantrel.core.parameter.Parameter;
import org.gantrel.service.team.Caller;

/**
 * A job with all that is known of it.
 *
 * @param definition the definition as it was written
 * @param usual how long a good run usually takes; missing until there were some
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
        CommandView does,
        Duration timeLimit,
        List<Integer> succeededCodes,
        List<Integer> warnedCodes,
        List<StepView> steps,
        List<ScheduleFacts.ScheduleView> schedules,
        List<String> mailOnFailure,
        String definition,
        Duration usual,
        List<String> warnings,
        List<String> mayDo) {

    /** An input that the job declares. */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record ParameterView(String name, String type, String fallback, List<String> of, String about) {
        static ParameterView of(Parameter parameter) {
            return new ParameterView(
                    parameter.name(),
                    parameter.type().word(),
                    parameter.fallback().orElse(null),
                    parameter.of(),
                    parameter.about());
        }
    }

    /** A command with its expressions as they are written. */
    record CommandView(List<String> command, String in, Map<String, String> environment) {}

    /** A step of a chain. */
    record StepView(String step, String job, List<String> after, String on, Map<String, String> with) {
        static StepView of(Step step) {
            return new StepView(step.name(), step.job(), step.after(), step.on().word(), step.with());
        }
    }

    static JobView of(
            Caller caller,
            JobRecord record,
            Job job,
            String definition,
            List<ScheduleFacts.ScheduleView> schedules,
            Duration usual,
            List<String> warnings) {
        Job.Task task = job instanceof Job.Task found ? found : null;
        Job.Chain chain = job instanceof Job.Chain found ? found : null;
        return new JobView(
                record.name(),
                record.team().name(),
                record.kind(),
                record.about(),
                record.revision(),
                record.isRetired(),
                job.parameters().all().stream().map(ParameterView::of).toList(),
                task == null
                        ? null
                        : new CommandView(
                                task.command().arguments(),
                                task.command().folder(),
                                task.command().environment()),
                task == null ? null : task.timeLimit().orElse(null),
                task == null
                        ? null
                        : task.exitRule().succeeded().stream().sorted().toList(),
                task == null ? null : task.exitRule().warned().stream().sorted().toList(),
                chain == null ? null : chain.steps().stream().map(StepView::of).toList(),
                schedules,
                job.mailOnFailure(),
                definition,
                usual,
                warnings,
                caller.deedsIn(record.team().name()).stream().map(Deed::word).toList());
    }
}
