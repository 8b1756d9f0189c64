package org.gantrel.service.job;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Step;
import org.gantrel.core.parameter.Parameter;
import org.gantrel.core.roster.Roster;
import org.gantrel.core.text.Nearest;
import org.gantrel.service.roster.Rosters;
import org.springframework.stereotype.Component;

/**
 * Whether a written roster gives what the job over it needs. What other teams have is not looked at: whoever reads a job is
 * told of what speaks against it, and may not see those.
 */
@Component
class OverAdvice implements JobAdvice {

    private final Jobs jobs;
    private final Rosters rosters;

    OverAdvice(Jobs jobs, Rosters rosters) {
        this.jobs = jobs;
        this.rosters = rosters;
    }

    @Override
    public List<String> warnings(Job job) {
        var warnings = new ArrayList<String>();
        job.schedules().forEach(schedule -> missing(job.team(), job, schedule.over(), schedule.with())
                .ifPresent(missing -> warnings.add("schedule " + schedule.name() + ": " + missing)));
        if (job instanceof Job.Chain chain) {
            for (Step step : chain.steps()) {
                step.runs()
                        .filter(runs -> !runs.over().isEmpty() && runs.rowsOf().isEmpty())
                        .flatMap(runs -> jobs.named(runs.job())
                                .filter(known -> known.team().equals(chain.team()))
                                .flatMap(known -> missing(chain.team(), jobs.current(known), runs.over(), step.with())))
                        .ifPresent(missing -> warnings.add("step " + step.name() + ": " + missing));
            }
        }
        return warnings;
    }

    private Optional<String> missing(String team, Job job, String over, Map<String, String> with) {
        if (over.isEmpty()) {
            return Optional.empty();
        }
        return rosters.named(over)
                .filter(record -> record.team().name().equals(team))
                .map(rosters::current)
                .filter(roster -> roster.source().isEmpty() && !roster.columns().isEmpty())
                .flatMap(roster -> missing(job, roster, with));
    }

    private static Optional<String> missing(Job job, Roster roster, Map<String, String> with) {
        List<String> unused = roster.columns().stream()
                .filter(column -> job.parameters().named(column).isEmpty())
                .toList();
        String missing = job.parameters().all().stream()
                .filter(parameter -> parameter.fallback().isEmpty())
                .map(Parameter::name)
                .filter(name -> !roster.columns().contains(name) && !with.containsKey(name))
                .map(name -> name + Nearest.hint(name, unused))
                .collect(Collectors.joining("; "));
        return missing.isEmpty()
                ? Optional.empty()
                : Optional.of("neither the columns of " + roster.name() + " nor 'with' give what " + job.name()
                        + " needs: " + missing);
    }
}
