package org.gantrel.service.engine;

import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import org.gantrel.core.chain.ChainCourse;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Step;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.run.CauseKind;
import org.gantrel.core.run.Ending;
import org.gantrel.core.run.RunState;
import org.gantrel.service.execution.Execution;
import org.gantrel.service.job.JobRecord;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.run.Finish;
import org.gantrel.service.run.NewRun;
import org.gantrel.service.run.RunEnded;
import org.gantrel.service.run.RunRecord;
import org.gantrel.service.run.RunRecord.Stopping;
import org.gantrel.service.run.Runs;
import org.springframework.context.event.EventListener;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Leads the runs of chains. What comes next is decided from the steps' runs as they stand in the database, so a chain
 * goes on after a restart as if nothing had been.
 */
@Component
class ChainRuns {

    private final Runs runs;
    private final Jobs jobs;
    private final TransactionTemplate transaction;
    /** Chains to look at: something happened to one of their steps. */
    private final Set<Long> stirred = ConcurrentHashMap.newKeySet();

    ChainRuns(Runs runs, Jobs jobs, TransactionTemplate transaction) {
        this.runs = runs;
        this.jobs = jobs;
        this.transaction = transaction;
    }

    void findAgain() {
        runs.runningChains().forEach(chain -> stirred.add(chain.number()));
    }

    @EventListener
    void follow(RunEnded ended) {
        if (ended.run().cause() == CauseKind.CHAIN) {
            ended.run().parent().ifPresent(stirred::add);
        }
    }

    void start(long number, Instant now) {
        runs.begin(number, Execution.identity(), now);
        stirred.add(number);
    }

    /** Begins the steps that may begin, and ends the chains that are through. */
    void lead(Instant now) {
        for (Long number : List.copyOf(stirred)) {
            stirred.remove(number);
            transaction.executeWithoutResult(status -> lead(runs.find(number).orElseThrow(), now));
        }
    }

    /** The steps under way of a chain that is to be stopped; those that wait are cancelled at once. */
    List<Long> stop(long number, Instant now) {
        if (!runs.find(number).map(RunRecord::isChain).orElse(false)) {
            return List.of();
        }
        stirred.add(number);
        return runs.children(number).stream()
                .filter(child -> !child.state().isEnded())
                .filter(child -> runs.askToStop(child.number(), Stopping.CANCEL, "the chain", now))
                .map(RunRecord::number)
                .toList();
    }

    private void lead(RunRecord chain, Instant now) {
        if (chain.state() != RunState.RUNNING || !chain.isChain()) {
            return;
        }
        var definition = (Job.Chain) runs.jobOf(chain);
        Map<String, RunState> states = new HashMap<>();
        runs.children(chain.number()).forEach(child -> states.put(child.step(), child.state()));
        if (chain.stopping() != Stopping.NO) {
            if (states.values().stream().allMatch(RunState::isEnded)) {
                end(chain, new Ending(RunState.CANCELLED, "cancelled by " + chain.stoppedBy()), now);
            }
            return;
        }
        var course = new ChainCourse(definition.steps(), states);
        course.beginning().forEach(step -> begin(chain, step, now));
        course.ending().ifPresent(ending -> end(chain, ending, now));
    }

    private void begin(RunRecord chain, Step step, Instant now) {
        JobRecord job = jobs.named(step.job()).orElseThrow();
        NewRun from = NewRun.asStep(job, step.with(), chain, step.name());
        try {
            if (job.isRetired()) {
                throw new InvalidException("job", "the job " + job.name() + " is retired");
            }
            runs.create(NewRun.asStep(job, runs.valuesOf(step, chain), chain, step.name()), now);
        } catch (InvalidException e) {
            runs.createEnded(from, new Ending(RunState.FAILED, "not started: " + Runs.sentence(e)), now);
        }
    }

    private void end(RunRecord chain, Ending ending, Instant now) {
        runs.end(chain.number(), Finish.of(ending), now);
    }
}
