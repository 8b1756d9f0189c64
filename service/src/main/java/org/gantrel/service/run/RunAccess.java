package org.gantrel.service.run;

import org.gantrel.core.access.Deed;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.team.Caller;
import org.springframework.stereotype.Component;

/** Finds a run for a caller and checks what they may do with it. A run that they may not see is as good as not there. */
@Component
public class RunAccess {

    private final Runs runs;
    private final Jobs jobs;

    RunAccess(Runs runs, Jobs jobs) {
        this.runs = runs;
        this.jobs = jobs;
    }

    public Run visible(Caller caller, long number) {
        return runs.find(number)
                .filter(run -> caller.may(Deed.SEE_RUNS, team(run)))
                .orElseThrow(() -> Refusal.notFound("there is no run " + number));
    }

    public Run visible(Caller caller, long number, Deed deed) {
        Run run = visible(caller, number);
        caller.require(deed, team(run));
        return run;
    }

    void requireJob(Caller caller, String name) {
        jobs.visible(caller, name);
    }

    /** The team that owns the run's job. */
    public String team(Run run) {
        return jobs.teamOf(run.jobId());
    }
}
