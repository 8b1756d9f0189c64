package org.gantrel.service.run;

import java.time.Duration;
import java.time.Instant;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.expression.PlannedTime;
import org.gantrel.core.run.CauseKind;
import org.gantrel.core.run.RunState;
import org.gantrel.core.run.RunStatus.Again;
import org.gantrel.core.run.RunStatus.Stop;

/**
 * One execution of a job, as the ledger had it when it was asked. A value: it does not change when the run goes on.
 *
 * @param revision that of the job when the run was written down
 * @param causeRef what the cause refers to: a schedule's name, the number of a run
 * @param starter the person who started it; empty where it started by itself
 * @param actsAs whom it acts as; empty before it began
 * @param step the step of a chain, or the place of a row in a sweep
 * @param parameters the values as they may be shown: secrets are masked
 * @param results the values that it gave
 * @param takenBy who sees to its failure; empty where nobody does
 * @param again its next try, where it waits for that
 * @param deadline when it is to have ended
 * @param late whether its deadline was over before it ended
 * @param unusuallyLong whether it takes, or took, far longer than usual
 * @param gatesSkipped who chose not to wait for its gates; empty where nobody did
 */
public record Run(
        long number,
        long jobId,
        String jobName,
        long teamId,
        String kind,
        int revision,
        RunState state,
        CauseKind cause,
        String causeRef,
        String starter,
        PlannedTime planned,
        Instant queuedAt,
        Optional<Instant> startedAt,
        Optional<Instant> finishedAt,
        String actsAs,
        int attempt,
        Optional<Integer> exitCode,
        String message,
        String waitingFor,
        Optional<Long> parent,
        String step,
        Map<String, String> parameters,
        Map<String, String> results,
        Stop stop,
        String takenBy,
        Optional<Again> again,
        Optional<Instant> deadline,
        String gatesSkipped,
        boolean late,
        boolean unusuallyLong,
        Sealed sealed) {
    /** Secret values as they are kept; only the run feature opens them. */
    public static final class Sealed {
        private final String text;

        Sealed(String text) {
            this.text = text;
        }

        String text() {
            return text;
        }
    }

    public boolean isChain() {
        return kind.equals("chain");
    }

    /** Whether it runs a job over a roster. */
    public boolean isSweep() {
        return kind.equals("sweep");
    }

    /** Whether it only leads other runs. */
    public boolean isParent() {
        return isChain() || isSweep();
    }

    /** Whether it is the run of a sweep's row. */
    public boolean isRow() {
        return cause == CauseKind.SWEEP && parent.isPresent();
    }

    public Instant plannedAt() {
        return planned.at();
    }

    /** From when on its waiting counts, of one that waits. */
    public Instant waitsSince() {
        Instant waiting = again.map(Again::at).orElse(queuedAt);
        return waiting.isAfter(plannedAt()) ? waiting : plannedAt();
    }

    /** How long it took; nothing before it ended, or where it never began. */
    public Optional<Duration> took() {
        return startedAt.flatMap(start -> finishedAt.map(end -> Duration.between(start, end)));
    }
}
