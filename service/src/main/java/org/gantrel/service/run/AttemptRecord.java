package org.gantrel.service.run;

import jakarta.persistence.Entity;
import jakarta.persistence.EnumType;
import jakarta.persistence.Enumerated;
import jakarta.persistence.Id;
import jakarta.persistence.IdClass;
import jakarta.persistence.Table;
import java.io.Serializable;
import java.time.Instant;
import org.gantrel.core.run.Effect;
import org.gantrel.core.run.RunState;

/** One of several tries of a run that is over: when it began, how it ended. Written once; an only try stands in the run itself. */
@Entity
@Table(name = "run_attempt")
@IdClass(AttemptRecord.Key.class)
final class AttemptRecord {

    private static final int LONGEST_MESSAGE = 2_000;

    /** A run has each number once. */
    record Key(Long runNumber, Integer attempt) implements Serializable {}

    @Id
    private Long runNumber;

    @Id
    private Integer attempt;

    private Instant startedAt;
    private Instant finishedAt;

    @Enumerated(EnumType.STRING)
    private RunState state;

    private Integer exitCode;
    private String message = "";

    protected AttemptRecord() {}

    /** One after which the run goes on with another. */
    AttemptRecord(Run run, Effect.NextAttempt next) {
        this.runNumber = run.number();
        this.attempt = run.attempt();
        this.startedAt = run.startedAt().orElseThrow();
        this.finishedAt = next.at().isBefore(startedAt) ? startedAt : next.at();
        this.state = next.last().state();
        this.exitCode = next.code().orElse(null);
        this.message = cut(next.last().message());
    }

    AttemptRecord(Run run) {
        this.runNumber = run.number();
        this.attempt = run.attempt();
        this.startedAt = run.startedAt().orElseThrow();
        this.finishedAt = run.finishedAt().orElseThrow();
        this.state = run.state();
        this.exitCode = run.exitCode().orElse(null);
        this.message = cut(run.message());
    }

    private static String cut(String text) {
        return text.length() <= LONGEST_MESSAGE ? text : text.substring(0, LONGEST_MESSAGE - 3) + "...";
    }

    long runNumber() {
        return runNumber;
    }

    Instant startedAt() {
        return startedAt;
    }

    Instant finishedAt() {
        return finishedAt;
    }

    /** An attempt as calls show it. */
    record View(int attempt, Instant startedAt, Instant finishedAt, String state, Integer exitCode, String message) {}

    View view() {
        return new View(attempt, startedAt, finishedAt, state.word(), exitCode, message);
    }
}
