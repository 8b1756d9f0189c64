package org.gantrel.service.engine;

import java.time.Instant;
import java.util.Optional;
import org.gantrel.core.chain.ChainCourse;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Step;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.run.Ending;
import org.gantrel.core.run.RunState;
import org.gantrel.service.job.JobEntry;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.run.Finish;
import org.gantrel.service.run.Ledger;
import org.gantrel.service.run.Moved;
import org.gantrel.service.run.NewRun;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.RunValues;
import org.gantrel.service.run.Runs;
import org.springframework.stereotype.Component;

/**
 * Leads the runs of chains. What comes next is decided from the steps' runs as they stand in the ledger, so a chain goes
 * on after a restart as if nothing had been.
 */
@Component
class ChainRuns {

    private final Ledger ledger;
    private final Runs runs;
    private final RunValues values;
    private final Jobs jobs;

    ChainRuns(Ledger ledger, Runs runs, RunValues values, Jobs jobs) {
        this.ledger = ledger;
        this.runs = runs;
        this.values = values;
        this.jobs = jobs;
    }

    /** How a chain went on: it ended, or some of its steps were written down, or nothing was to be done. */
    record Led(Optional<Moved> end, boolean moved, boolean lookAgain) {}

    /** Writes down the steps that may begin, or the end of a chain that is through, in the transaction under way. */
    Led lead(Run chain, Instant now) {
        var definition = (Job.Chain) runs.jobOf(chain);
        var course = new ChainCourse(definition.steps(), runs.steps(chain.number()), chain.stop());
        Optional<Ending> ending = course.ending();
        if (ending.isPresent()) {
            return new Led(ledger.finish(chain.number(), Finish.of(ending.get()), now), true, false);
        }
        boolean ended = false;
        for (Step step : course.beginning()) {
            ended |= begin(chain, step, now).state().isEnded();
        }
        return new Led(Optional.empty(), !course.beginning().isEmpty(), ended);
    }

    /** Writes down the run of a step; one whose values are wrong, or whose job is gone, ends at once and says why. */
    private Run begin(Run chain, Step step, Instant now) {
        JobEntry job = jobs.named(step.job()).orElseThrow();
        try {
            if (job.isRetired()) {
                throw new InvalidException("job", "the job " + job.name() + " is retired");
            }
            return ledger.create(NewRun.asStep(job, values.of(step, chain), chain, step.name()), now);
        } catch (InvalidException e) {
            return ledger.createEnded(
                    NewRun.asStep(job, step.with(), chain, step.name()),
                    new Ending(RunState.FAILED, "not started: " + Runs.sentence(e)),
                    now);
        }
    }
}
