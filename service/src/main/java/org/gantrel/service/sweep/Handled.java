package org.gantrel.service.sweep;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;

/** A record that a job has handled well: it is left out of later sweeps until its memory ends. */
@Entity
@Table(name = "handled")
final class Handled {

    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    private Long id;

    private long rosterId;
    private long jobId;
    private String recordKey;
    private String recordState;
    private Instant handledAt;
    private long runNumber;

    protected Handled() {}

    Handled(long rosterId, long jobId, String recordKey) {
        this.rosterId = rosterId;
        this.jobId = jobId;
        this.recordKey = recordKey;
    }

    void by(long run, String state, Instant at) {
        runNumber = run;
        recordState = state;
        handledAt = at;
    }

    Long id() {
        return id;
    }

    long jobId() {
        return jobId;
    }

    String recordKey() {
        return recordKey;
    }

    String recordState() {
        return recordState;
    }

    Instant handledAt() {
        return handledAt;
    }

    long runNumber() {
        return runNumber;
    }
}
