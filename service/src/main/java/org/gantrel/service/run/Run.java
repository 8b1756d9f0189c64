package org.gantrel.service.run;

import java.time.Duration;
import java.time.Instant;
import java.time.ZonedDateTime;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.expression.PlannedTime;
import org.gantrel.core.run.CauseKind;
import org.gantrel.core.run.Limits;
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

    /** Nothing is begun so long ahead of its time. */
    private static final Duration JUST_AHEAD = Duration.ofSeconds(5);

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

    /**
     * Whether its planned time is still to come. Schedules and triggers alone plan ahead, and what belongs to a run that is
     * begun just ahead of its time waits with it. What was due when it was written down has nothing to wait for, though the
     * clock was put back since.
     */
    public boolean isAhead(Instant now) {
        boolean plans = cause == CauseKind.SCHEDULE || cause == CauseKind.TRIGGER;
        return plannedAt().isAfter(now)
                && (plans ? plannedAt().isAfter(queuedAt) : plannedAt().isBefore(now.plus(JUST_AHEAD)));
    }

    /** When it begins if it may begin now: at its planned time where that is just to come, so that it starts in time. */
    public Instant begins(Instant now) {
        return isAhead(now) ? plannedAt() : now;
    }

    /** Whether it waits to go on: for its next try, or since somebody took it up again after its end. */
    public boolean waitsToGoOn() {
        return again.isPresent() || state == RunState.WAITING && isParent() && startedAt.isPresent();
    }

    /**
     * The end of the window that it has to keep to: of that in which it was planned, or, for what was taken up again when
     * that was over, of the next from then on.
     */
    public Optional<Instant> windowEnd(Limits limits, Instant now) {
        Optional<Instant> own = limits.windowEnd(planned).map(ZonedDateTime::toInstant);
        if (!isParent() || startedAt.isEmpty()) {
            return own;
        }
        Instant since = state == RunState.RUNNING ? startedAt.get() : now;
        return own.filter(end -> end.isAfter(since)).or(() -> limits.windowEnd(new PlannedTime(since, planned.zone()))
                .map(ZonedDateTime::toInstant));
    }

    /** How long it took; nothing before it ended, where it never began, or where the clock was put back meanwhile. */
    public Optional<Duration> took() {
        return startedAt
                .flatMap(start -> finishedAt.map(end -> Duration.between(start, end)))
                .filter(took -> !took.isNegative());
    }
}
