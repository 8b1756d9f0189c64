package org.gantrel.service.engine;

import org.gantrel.service.aside.SetAside.Kind;
import org.gantrel.service.aside.SetAside.Thing;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.Runs;
import org.springframework.stereotype.Component;

/** Says what people call the things that the engine deals with. */
@Component
class Things {

    private final Runs runs;
    private final Jobs jobs;

    Things(Runs runs, Jobs jobs) {
        this.runs = runs;
        this.jobs = jobs;
    }

    Thing of(Kind kind, Run run) {
        return new Thing(kind, run.number(), "run " + run.number() + " of " + run.jobName(), jobs.teamOf(run.jobId()));
    }

    /** What people call something about a run; its number where even that cannot be read. */
    Thing of(Kind kind, long number, String what) {
        try {
            return runs.find(number)
                    .map(run -> new Thing(
                            kind, number, what + "run " + number + " of " + run.jobName(), jobs.teamOf(run.jobId())))
                    .orElse(new Thing(kind, number, what + "run " + number, ""));
        } catch (RuntimeException e) {
            return new Thing(kind, number, what + "run " + number, "");
        }
    }
}
