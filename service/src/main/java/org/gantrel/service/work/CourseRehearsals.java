package org.gantrel.service.work;

import java.time.Duration;
import java.time.Instant;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.chain.ChainWalk;
import org.gantrel.core.chain.ChainWalk.Takes;
import org.gantrel.core.expression.Bindings;
import org.gantrel.core.expression.ExpressionException;
import org.gantrel.core.expression.PlannedTime;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Rules;
import org.gantrel.core.job.Step;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.run.Admission.Demand;
import org.gantrel.core.run.Admission.LaneNow;
import org.gantrel.core.run.CauseKind;
import org.gantrel.core.run.Crowd;
import org.gantrel.service.chain.ChainSteps;
import org.gantrel.service.job.JobEntry;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.job.RunFacts;
import org.gantrel.service.lane.Lanes;
import org.gantrel.service.run.RunValues;
import org.gantrel.service.traffic.Demands;
import org.springframework.stereotype.Component;

/** Walks through chains: finds how long their steps usually take, and which of them cannot go beside each other. */
@Component
class CourseRehearsals {

    private final Jobs jobs;
    private final RunValues runValues;
    private final RunFacts facts;
    private final ChainSteps chains;
    private final Demands demands;
    private final Lanes lanes;

    CourseRehearsals(Jobs jobs, RunValues runValues, RunFacts facts, ChainSteps chains, Demands demands, Lanes lanes) {
        this.jobs = jobs;
        this.runValues = runValues;
        this.facts = facts;
        this.chains = chains;
        this.demands = demands;
        this.lanes = lanes;
    }

    /**
     * A chain that is walked through.
     *
     * @throws InvalidException where something is supposed of what is not there
     */
    CourseRehearsal of(
            JobEntry entry,
            Job.Chain chain,
            Map<String, String> values,
            PlannedTime planned,
            Map<String, String> suppose) {
        Bindings known = runValues.known(values, planned);
        return new CourseRehearsal(
                chain,
                known,
                planned.at(),
                suppose,
                (step, from) -> usual(entry, step, from, planned),
                room(chain, known.typed(chain.parameters().kinds())));
    }

    /** How long a step of a chain usually takes, from a time on that is counted from the chain's beginning. */
    private Duration usual(JobEntry chain, Step step, Duration from, PlannedTime planned) {
        if (step.work() instanceof Step.Pause pause) {
            Instant begins = planned.at().plus(from);
            Duration left = Duration.between(begins, pause.end(begins, planned));
            return left.isNegative() ? Duration.ZERO : left;
        }
        if (step.runs().isEmpty()) {
            return chains.usualWithoutRun(chain.id()).getOrDefault(step.name(), Duration.ZERO);
        }
        Duration once = step.runs()
                .flatMap(runs -> jobs.named(runs.job()))
                .flatMap(entry -> step.over().isEmpty() ? facts.usual(entry.id()) : facts.usualOver(entry.id()))
                .orElse(Duration.ZERO);
        return step.until()
                .map(until ->
                        until.inAll(once, chains.lately(chain.id()).turns().getOrDefault(step.name(), 1)))
                .orElse(once);
    }

    private ChainWalk.Room room(Job.Chain chain, Bindings known) {
        Map<Step, Takes> takes = new HashMap<>();
        Map<String, Integer> widest = new HashMap<>();
        for (Step step : chain.steps()) {
            Takes each = takes(chain, step, known);
            takes.put(step, each);
            each.demand().lanes().forEach((lane, places) -> widest.merge(lane, places, Math::max));
        }
        Map<String, LaneNow> now = lanes.now();
        Map<String, LaneNow> open = new HashMap<>();
        widest.forEach((lane, places) -> open.put(
                lane,
                new LaneNow(
                        Math.max(places, now.containsKey(lane) ? now.get(lane).width() : 0), Optional.empty())));
        return new ChainWalk.Room(takes::get, open);
    }

    private Takes takes(Job.Chain chain, Step step, Bindings known) {
        Optional<Job> found = step.runs()
                .flatMap(runs -> jobs.named(runs.job()))
                .filter(entry -> !entry.isRetired())
                .map(jobs::current);
        if (found.isEmpty()) {
            return new Takes(Demand.NOTHING, Rules.USUAL_PRIORITY, true);
        }
        Job job = step.own().over(found.get());
        boolean sweep = !step.over().isEmpty();
        Demand demand = demands.planned(job, Map.of(), sweep)
                .within(chain.rules().lanes().keySet());
        if (!demand.crowd().isNone() && !job.rules().overlap().apartBy().isEmpty()) {
            demand = new Demand(demand.lanes(), crowd(job, step, known), demand.overlap(), demand.needs());
        }
        boolean parent = sweep || job instanceof Job.Chain || Demands.isOutside(job);
        return new Takes(demand, job.rules().priority(), parent);
    }

    /** With what a step counts whose values tell its runs apart; with nothing where they come from steps before. */
    private Crowd crowd(Job job, Step step, Bindings known) {
        try {
            Map<String, String> values =
                    runValues.resolve(job, known.fill(step.with()), CauseKind.CHAIN, known.planned());
            return job.rules().overlap().crowd(job.name(), values);
        } catch (InvalidException | ExpressionException e) {
            return Crowd.NONE;
        }
    }
}
