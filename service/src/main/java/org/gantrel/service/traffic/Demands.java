package org.gantrel.service.traffic;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import java.util.HashMap;
import java.util.HashSet;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.gantrel.core.action.Outside;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Rules;
import org.gantrel.core.job.Step;
import org.gantrel.core.run.Admission;
import org.gantrel.core.run.Admission.Demand;
import org.gantrel.core.run.Admission.Running;
import org.gantrel.core.run.Crowd;
import org.gantrel.core.run.Overlap;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.Runs;
import org.springframework.stereotype.Component;

/**
 * What runs take while they are under way. A lane that a chain holds its steps do not need again; a sweep holds none
 * itself, its rows take places one by one. The rows of a sweep count as one run of the job, which is the sweep; where
 * values tell runs apart, each row counts by itself instead.
 */
@Component
public class Demands {

    private final Jobs jobs;
    private final Runs runs;
    /** A run keeps the revision that it was written down with, so that what it takes does not change. */
    private final Cache<Long, Demand> known =
            Caffeine.newBuilder().maximumSize(50_000).build();

    Demands(Jobs jobs, Runs runs) {
        this.jobs = jobs;
        this.runs = runs;
    }

    public Demand of(Run run) {
        Demand demand = known.get(run.number(), number -> workOut(run));
        boolean goesOn =
                run.isChain() ? run.startedAt().isPresent() : run.again().isPresent();
        // a later run still takes the place of one that waits for its next try
        boolean replaces = !run.isChain() && demand.overlap().mode() == Overlap.Mode.REPLACE;
        return goesOn && !replaces ? demand.again() : demand;
    }

    /** The same by a run's number; what it takes is mostly known without reading it. */
    public Demand of(long number) {
        return known.get(number, key -> runs.find(key).map(this::workOut).orElse(Demand.NOTHING));
    }

    /** A run that is under way as admission looks at it. */
    public Running running(Run run) {
        return new Running(run.number(), jobs.teamOf(run.jobId()), takesNoPlace(run), of(run));
    }

    /** Whether a run takes no place of the service: it leads others, or is only told of. */
    public boolean takesNoPlace(Run run) {
        return run.isParent() || isOutside(runs.jobOf(run));
    }

    /** Whether others do the work of a job, so that its runs take no place of the service. */
    public static boolean isOutside(Job job) {
        return job instanceof Job.Task task && task.action() instanceof Outside;
    }

    /** What the definition says that a run was written down with. */
    public Rules rules(Run run) {
        return runs.jobOf(run).rules();
    }

    /** What a run will take that is not written down yet. @param sweep whether it is one over a roster */
    public Demand planned(Job job, Map<String, String> values, boolean sweep) {
        Rules rules = job.rules();
        var held = new HashSet<>(rules.lanes().keySet());
        var needs = new HashSet<String>();
        if (sweep) {
            rules.lanes().keySet().stream().map(Admission::ofLane).forEach(needs::add);
        }
        if (job instanceof Job.Chain chain) {
            collect(chain, held, needs);
        }
        // rows that values tell apart count by themselves
        boolean counts = !sweep || rules.overlap().apartBy().isEmpty();
        return new Demand(
                sweep ? Map.of() : rules.lanes(),
                counts ? rules.overlap().crowd(job.name(), values) : Crowd.NONE,
                rules.overlap(),
                needs);
    }

    private Demand workOut(Run run) {
        Job job = runs.jobOf(run);
        Rules rules = job.rules();
        Set<String> inherited = heldAround(run);
        Map<String, Integer> lanes = run.isSweep() ? Map.of() : without(rules.lanes(), inherited);
        boolean apart = !rules.overlap().apartBy().isEmpty();
        boolean counts = run.isSweep() ? !apart : apart || !run.isRow();
        var held = new HashSet<>(inherited);
        held.addAll(lanes.keySet());
        var needs = new HashSet<String>();
        if (run.isSweep()) {
            rules.lanes().keySet().stream()
                    .filter(lane -> !held.contains(lane))
                    .map(Admission::ofLane)
                    .forEach(needs::add);
            held.addAll(rules.lanes().keySet());
        }
        if (job instanceof Job.Chain chain) {
            collect(chain, held, needs);
        }
        return new Demand(
                lanes,
                counts ? rules.overlap().crowd(run.jobName(), run.parameters()) : Crowd.NONE,
                rules.overlap(),
                needs);
    }

    /** What the next row of a sweep will take. */
    public Demand ofRow(Run sweep) {
        Job job = runs.jobOf(sweep);
        Set<String> held = heldAround(sweep);
        Map<String, Integer> lanes = without(job.rules().lanes(), held);
        var needs = new HashSet<String>();
        if (job instanceof Job.Chain chain) {
            held.addAll(lanes.keySet());
            collect(chain, held, needs);
        }
        return new Demand(lanes, Crowd.NONE, Overlap.USUAL, needs);
    }

    /** The lanes that are held around a run by the chains that it is a part of: it does not need them again. */
    public Set<String> heldAround(Run run) {
        var held = new HashSet<String>();
        Optional<Run> parent = run.parent().flatMap(runs::find);
        while (parent.isPresent()) {
            if (parent.get().isChain()) {
                held.addAll(runs.jobOf(parent.get()).rules().lanes().keySet());
            }
            parent = parent.get().parent().flatMap(runs::find);
        }
        return held;
    }

    private void collect(Job.Chain chain, Set<String> held, Set<String> needs) {
        for (Step step : chain.steps()) {
            Optional<Job> part = jobOf(step);
            if (part.isEmpty() || !needs.add(Admission.ofCrowd(step.job()))) {
                continue;
            }
            var also = new HashSet<>(held);
            part.get().rules().lanes().keySet().forEach(lane -> {
                if (also.add(lane)) {
                    needs.add(Admission.ofLane(lane));
                }
            });
            if (part.get() instanceof Job.Chain inner) {
                collect(inner, also, needs);
            }
        }
    }

    private Optional<Job> jobOf(Step step) {
        return step.runs()
                .flatMap(runs -> jobs.named(runs.job()))
                .map(jobs::current)
                .map(step.own()::over);
    }

    private static Map<String, Integer> without(Map<String, Integer> lanes, Set<String> held) {
        if (held.isEmpty() || lanes.isEmpty()) {
            return lanes;
        }
        var left = new HashMap<>(lanes);
        left.keySet().removeAll(held);
        return left;
    }
}
