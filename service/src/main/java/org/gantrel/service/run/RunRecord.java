package org.gantrel.service.run;

import jakarta.persistence.Convert;
import jakarta.persistence.Entity;
import jakarta.persistence.EnumType;
import jakarta.persistence.Enumerated;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import jakarta.persistence.Version;
import java.time.Instant;
import java.time.ZoneId;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.gantrel.core.expression.PlannedTime;
import org.gantrel.core.run.CauseKind;
import org.gantrel.core.run.RunState;
import org.gantrel.core.run.RunStatus;
import org.gantrel.core.run.RunStatus.Again;
import org.gantrel.core.run.RunStatus.Ended;
import org.gantrel.core.run.RunStatus.Stop;
import org.gantrel.core.run.RunStatus.Tries;
import org.gantrel.core.run.RunStatus.Underway;
import org.gantrel.core.run.RunStatus.Waiting;
import org.gantrel.core.text.SearchWords;
import org.gantrel.service.job.JobEntry;
import org.hibernate.annotations.DynamicUpdate;

/**
 * A run in the ledger. Only what a move changes is written, and only where the run is still as it was read: two writers
 * cannot undo each other's moves.
 */
@Entity
@DynamicUpdate
@Table(name = "run")
final class RunRecord {

    private static final int LONGEST_MESSAGE = 2_000;
    private static final int LONGEST_WAITING = 300;
    private static final int LONGEST_IDENTITY = 300;

    @Id
    private Long number;

    @Version
    private int version;

    private Long jobId;
    private String jobName;
    private Long teamId;
    private String kind;
    private int revision;

    @Enumerated(EnumType.STRING)
    private RunState state = RunState.WAITING;

    @Enumerated(EnumType.STRING)
    private CauseKind cause;

    private String causeRef;
    private String starter;
    private Instant plannedAt;
    private String zone;
    private Instant queuedAt;
    private Instant startedAt;
    private Instant finishedAt;
    private String actsAs = "";
    private int attempt = 1;
    private Integer exitCode;
    private String message = "";
    private String waitingFor = "";
    private Long parent;
    private String step;

    @Convert(converter = ValuesColumn.class)
    private Map<String, String> parameters;

    private String sealed;

    @Convert(converter = ValuesColumn.class)
    private Map<String, String> results = Map.of();

    @Enumerated(EnumType.STRING)
    private Stop.Why stopping = Stop.Why.NO;

    private String stoppedBy = "";
    private String takenBy = "";
    private Instant beganAt;
    private Instant retryAt;

    @Enumerated(EnumType.STRING)
    private RunState retryState;

    private String retryMessage;
    private Instant deadline;
    private String gatesSkipped = "";
    private int turn = 1;
    private boolean late;
    private boolean unusuallyLong;

    /** Whether its log, and its outputs, were thinned out; retention alone writes these. */
    private boolean logGone;

    private boolean outputsGone;

    protected RunRecord() {}

    RunRecord(long number, NewRun from, Map<String, String> shown, String sealed, Instant now) {
        this.number = number;
        JobEntry job = from.job();
        this.jobId = job.id();
        this.jobName = job.name();
        this.teamId = job.teamId();
        this.kind = from.over().isPresent() ? "sweep" : job.kind();
        this.revision = job.revision();
        this.cause = from.cause();
        this.causeRef = from.causeRef();
        this.starter = from.starter();
        this.plannedAt = from.planned().at();
        this.zone = from.planned().zone().getId();
        this.queuedAt = now;
        this.parent = from.parent().orElse(null);
        // a null parent leaves parent, step and turn free to repeat
        this.step = from.step();
        this.turn = from.turn();
        this.parameters = shown;
        this.sealed = sealed;
        this.deadline = from.deadline().orElse(null);
        this.gatesSkipped = from.gatesSkipped() ? from.starter() : "";
    }

    /** The words that it can be found by, as far as is known of it yet. */
    Set<String> words() {
        return SearchWords.of(
                number + " " + jobName + " " + starter + " " + message + " " + String.join(" ", parameters.values()));
    }

    RunStatus status() {
        if (state == RunState.WAITING) {
            return new Waiting(waitingFor, again(), again().isEmpty() && startedAt != null);
        }
        return state == RunState.RUNNING
                ? new Underway(startedAt, actsAs, stop(), tries())
                : new Ended(new org.gantrel.core.run.Ending(state, message), finishedAt);
    }

    private Tries tries() {
        return new Tries(attempt, beganAt == null ? startedAt : beganAt);
    }

    private Optional<Again> again() {
        return retryAt == null
                ? Optional.empty()
                : Optional.of(new Again(tries(), retryAt, new org.gantrel.core.run.Ending(retryState, retryMessage)));
    }

    private Stop stop() {
        return stopping == Stop.Why.NO ? Stop.NO : new Stop(stopping, stoppedBy);
    }

    /** Takes on the status that a move leads to. */
    void take(RunStatus next) {
        boolean over = state.isEnded();
        state = next.state();
        if (next instanceof Waiting waiting) {
            if (over) {
                finishedAt = null;
                message = "";
                stopping = Stop.Why.NO;
                stoppedBy = "";
            }
            waitingFor = cut(waiting.what(), LONGEST_WAITING);
            waiting.again().ifPresent(again -> {
                attempt = again.tries().number();
                retryAt = again.at();
                retryState = again.last().state();
                retryMessage = cut(again.last().message(), LONGEST_MESSAGE);
                stopping = Stop.Why.NO;
                stoppedBy = "";
            });
            return;
        }
        waitingFor = "";
        retryAt = null;
        if (next instanceof Underway underway) {
            attempt = underway.tries().number();
            beganAt = underway.tries().began();
            startedAt = underway.since();
            actsAs = cut(underway.identity(), LONGEST_IDENTITY);
            stopping = underway.stop().why();
            stoppedBy = underway.stop().by();
        } else if (next instanceof Ended ended) {
            message = cut(ended.ending().message(), LONGEST_MESSAGE);
            finishedAt = ended.at();
            late = late || deadline != null && ended.at().isAfter(deadline);
        }
    }

    void left(Optional<Integer> code, Map<String, String> given) {
        exitCode = code.orElse(null);
        if (!given.isEmpty()) {
            results = given;
        }
    }

    /** Takes other values for what is still to come. */
    void revalue(Map<String, String> shown, String otherSealed) {
        parameters = shown;
        sealed = otherSealed;
    }

    /** What it waits for, as it is kept. */
    static String waiting(String what) {
        return cut(what, LONGEST_WAITING);
    }

    Long number() {
        return number;
    }

    RunState state() {
        return state;
    }

    boolean isChain() {
        return kind.equals("chain");
    }

    CauseKind cause() {
        return cause;
    }

    Run value() {
        return new Run(
                number,
                jobId,
                jobName,
                teamId,
                kind,
                revision,
                state,
                cause,
                causeRef,
                starter,
                new PlannedTime(plannedAt, ZoneId.of(zone)),
                queuedAt,
                Optional.ofNullable(startedAt),
                Optional.ofNullable(finishedAt),
                actsAs,
                attempt,
                Optional.ofNullable(exitCode),
                message,
                waitingFor,
                Optional.ofNullable(parent),
                step,
                parameters,
                results,
                stop(),
                takenBy,
                state == RunState.WAITING ? again() : Optional.empty(),
                Optional.ofNullable(deadline),
                gatesSkipped,
                late,
                unusuallyLong,
                new Run.Sealed(sealed));
    }

    private static String cut(String text, int longest) {
        return text.length() <= longest ? text : text.substring(0, longest - 3) + "...";
    }
}
