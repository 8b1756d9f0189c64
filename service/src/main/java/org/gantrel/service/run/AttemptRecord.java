package org.gantrel.service.run;

import jakarta.persistence.Entity;
import jakarta.persistence.EnumType;
import jakarta.persistence.Enumerated;
import jakarta.persistence.Id;
import jakarta.persistence.IdClass;
import jakarta.persistence.Table;
import java.io.Serializable;
import java.time.Instant;
import org.gantrel.core.run.RunState;
import org.hibernate.annotations.DynamicUpdate;

/** One try of a run: when it began, how it ended. */
@Entity
@DynamicUpdate
@Table(name = "run_attempt")
@IdClass(AttemptRecord.Key.class)
final class AttemptRecord {

    /** A run has each number once. */
    record Key(Long runNumber, Integer attempt) implements Serializable {}

    @Id
    private Long runNumber;

    @Id
    private Integer attempt;

    private Instant startedAt;
    private Instant finishedAt;

    @Enumerated(EnumType.STRING)
    private RunState state = RunState.RUNNING;

    private Integer exitCode;

    protected AttemptRecord() {}

    AttemptRecord(Run run) {
        this.runNumber = run.number();
        this.attempt = run.attempt();
        this.startedAt = run.startedAt().orElseThrow();
    }

    void end(Run run) {
        state = run.state();
        finishedAt = run.finishedAt().orElse(null);
        exitCode = run.exitCode().orElse(null);
    }
}
