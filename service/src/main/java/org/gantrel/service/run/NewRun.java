package org.gantrel.service.run;

import java.time.Instant;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.expression.PlannedTime;
import org.gantrel.core.run.CauseKind;
import org.gantrel.service.job.JobEntry;

/**
 * A run that is about to be written down.
 *
 * @param given values by parameter; the job's defaults fill in the rest
 * @param causeRef what the cause refers to: a schedule's name, the number of a run
 * @param starter the person who started it; empty where it started by itself
 * @param parent the run of the chain that it belongs to
 * @param step the step of that chain, or the place of a row in that sweep
 * @param over the roster that the job runs over; nothing for a single run
 * @param deadline when it is to have ended
 * @param gatesSkipped whether its starter chose not to wait for its gates
 * @param turn which run of its step it is, from 1
 */
public record NewRun(
        JobEntry job,
        Map<String, String> given,
        CauseKind cause,
        String causeRef,
        String starter,
        PlannedTime planned,
        Optional<Long> parent,
        String step,
        Optional<SweepRequest> over,
        Optional<Instant> deadline,
        boolean gatesSkipped,
        int turn) {

    /** One without a deadline that waits for its gates. */
    private NewRun(
            JobEntry job,
            Map<String, String> given,
            CauseKind cause,
            String causeRef,
            String starter,
            PlannedTime planned,
            Optional<Long> parent,
            String step) {
        this(job, given, cause, causeRef, starter, planned, parent, step, Optional.empty(), Optional.empty(), false, 1);
    }

    public static NewRun bySchedule(JobEntry job, Map<String, String> with, String schedule, PlannedTime planned) {
        return new NewRun(job, with, CauseKind.SCHEDULE, schedule, "", planned, Optional.empty(), "");
    }

    public static NewRun byPerson(JobEntry job, Map<String, String> given, String person, PlannedTime planned) {
        return new NewRun(job, given, CauseKind.PERSON, person, person, planned, Optional.empty(), "");
    }

    /** One that an event started. @param cause the number of the run that it tells of, or the event itself */
    public static NewRun byTrigger(
            JobEntry job, Map<String, String> with, String trigger, String cause, PlannedTime planned) {
        return new NewRun(job, with, CauseKind.TRIGGER, cause, "", planned, Optional.empty(), trigger);
    }

    /** The same again: the same values, planned for the same time, so that it covers the same day. */
    public static NewRun again(JobEntry job, Map<String, String> values, Run run, String person) {
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

    public static NewRun asStep(JobEntry job, Map<String, String> with, Run chain, String step) {
        return asStep(job, with, chain, step, 1);
    }

    /** The same. @param turn which run of the step it is, from 1 */
    public static NewRun asStep(JobEntry job, Map<String, String> with, Run chain, String step, int turn) {
        return ofChain(job, with, chain, Optional.of(chain.number()), step, turn);
    }

    /** One that a step starts and that the chain does not wait for: it belongs to nobody but itself. */
    public static NewRun besideChain(JobEntry job, Map<String, String> with, Run chain, String step, int turn) {
        return ofChain(job, with, chain, Optional.empty(), step, turn);
    }

    private static NewRun ofChain(
            JobEntry job, Map<String, String> with, Run chain, Optional<Long> parent, String step, int turn) {
        return new NewRun(
                job,
                with,
                CauseKind.CHAIN,
                String.valueOf(chain.number()),
                chain.starter(),
                chain.planned(),
                parent,
                step,
                Optional.empty(),
                Optional.empty(),
                false,
                turn);
    }

    /** The run of one row of a sweep. @param job as of the revision that the sweep keeps to */
    public static NewRun asRow(JobEntry job, Map<String, String> values, Run sweep, int place) {
        return new NewRun(
                job,
                values,
                CauseKind.SWEEP,
                String.valueOf(sweep.number()),
                sweep.starter(),
                sweep.planned(),
                Optional.of(sweep.number()),
                String.valueOf(place));
    }

    /** The same over a roster. */
    public NewRun over(SweepRequest roster) {
        return new NewRun(
                job,
                given,
                cause,
                causeRef,
                starter,
                planned,
                parent,
                step,
                Optional.of(roster),
                deadline,
                gatesSkipped,
                turn);
    }

    /** The same, to have ended by a time. */
    public NewRun by(Optional<Instant> end) {
        return new NewRun(job, given, cause, causeRef, starter, planned, parent, step, over, end, gatesSkipped, turn);
    }

    /** The same, without waiting for its gates. */
    public NewRun skippingGates() {
        return new NewRun(job, given, cause, causeRef, starter, planned, parent, step, over, deadline, true, turn);
    }
}
