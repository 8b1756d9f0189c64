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

/** One try of a run that is over: when it began, how it ended. Written once. */
@Entity
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
    private RunState state;

    private Integer exitCode;

    protected AttemptRecord() {}

    AttemptRecord(Run run) {
        this.runNumber = run.number();
        this.attempt = run.attempt();
        this.startedAt = run.startedAt().orElseThrow();
        this.finishedAt = run.finishedAt().orElseThrow();
        this.state = run.state();
        this.exitCode = run.exitCode().orElse(null);
    }
}
