package org.gantrel.service.run;

import java.util.Map;
import java.util.Optional;
import org.gantrel.core.expression.PlannedTime;
import org.gantrel.core.run.CauseKind;
import org.gantrel.service.job.JobRecord;

/**
 * A run that is about to be written down.
 *
 * @param given values by parameter; the job's defaults fill in the rest
 * @param causeRef what the cause refers to: a schedule's name, the number of a run
 * @param starter the person who started it; empty where it started by itself
 * @param parent the run of the chain that it belongs to
 * @param step the step of that chain
 */
public record NewRun(
        JobRecord job,
        Map<String, String> given,
        CauseKind cause,
        String causeRef,
        String starter,
        PlannedTime planned,
        Optional<Long> parent,
        String step) {

    public static NewRun bySchedule(JobRecord job, Map<String, String> with, String schedule, PlannedTime planned) {
        return new NewRun(job, with, CauseKind.SCHEDULE, schedule, "", planned, Optional.empty(), "");
    }

    public static NewRun byPerson(JobRecord job, Map<String, String> given, String person, PlannedTime planned) {
        return new NewRun(job, given, CauseKind.PERSON, person, person, planned, Optional.empty(), "");
    }

    /** The same again: the same values, planned for the same time, so that it covers the same day. */
    public static NewRun again(JobRecord job, Map<String, String> values, RunRecord run, String person) {
        return new NewRun(
                job,
                values,
                CauseKind.REPEAT,
                String.valueOf(run.number()),
                person,
                run.planned(),
                Optional.empty(),
                "");
    }

    public static NewRun asStep(JobRecord job, Map<String, String> with, RunRecord chain, String step) {
        return new NewRun(
                job,
                with,
                CauseKind.CHAIN,
                String.valueOf(chain.number()),
                chain.starter(),
                chain.planned(),
                Optional.of(chain.number()),
                step);
    }
}
