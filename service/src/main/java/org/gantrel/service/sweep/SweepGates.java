package org.gantrel.service.sweep;

import java.util.List;
import java.util.Optional;
import org.gantrel.core.gate.Gates;
import org.gantrel.core.job.Job;
import org.gantrel.core.roster.Roster;
import org.gantrel.core.sweep.SharedValues;
import org.gantrel.service.roster.Rosters;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.RunValues;
import org.gantrel.service.run.Runs;
import org.gantrel.service.run.SweepRequest;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;

/** For which gates of its job a sweep waits, and for which each of its rows. */
@Component
public class SweepGates {

    private static final Logger LOG = LoggerFactory.getLogger(SweepGates.class);

    private final Sweeps sweeps;
    private final Rosters rosters;
    private final Runs runs;
    private final RunValues values;

    SweepGates(Sweeps sweeps, Rosters rosters, Runs runs, RunValues values) {
        this.sweeps = sweeps;
        this.rosters = rosters;
        this.runs = runs;
        this.values = values;
    }

    /** The gates that a run waits for. */
    public Gates of(Run run) {
        Job job = runs.jobOf(run);
        Gates all = job.rules().gates();
        if (all.isEmpty() || !run.isSweep() && !run.isRow()) {
            return all;
        }
        try {
            return run.isSweep()
                    ? shared(run, job).ofSweep(all)
                    : run.parent()
                            .flatMap(runs::find)
                            .map(sweep -> shared(sweep, job).ofRow(all, values.open(run)))
                            .orElse(all);
        } catch (RuntimeException e) {
            // values that cannot be opened any more stop no other run: the look at the gates says what is wrong
            LOG.debug("the gates of run {} cannot be told apart", run.number(), e);
            return all;
        }
    }

    /** What the rows of a sweep have in common. */
    public SharedValues shared(Run sweep, Job job) {
        SweepRecord record = sweeps.of(sweep.number());
        Roster roster = rosters.current(rosters.withId(record.rosterId()));
        boolean written = roster.source().isEmpty()
                && !roster.columns().isEmpty()
                && SweepRequest.ofRun(record.selection()).isEmpty();
        Optional<List<String>> columns = written ? Optional.of(roster.columns()) : Optional.empty();
        return values.shared(job, sweep, columns);
    }
}
