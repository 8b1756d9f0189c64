package org.gantrel.service.trigger;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import java.time.Instant;

/** A trigger that somebody switched off. */
@Entity
final class TriggerSwitch {

    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    private Long id;

    private long jobId;
    private String triggerName;
    private String offBy;
    private Instant offAt;

    protected TriggerSwitch() {}

    TriggerSwitch(long job, String trigger, String by, Instant at) {
        this.jobId = job;
        this.triggerName = trigger;
        this.offBy = by;
        this.offAt = at;
    }

    long jobId() {
        return jobId;
    }

    String triggerName() {
        return triggerName;
    }

    String offBy() {
        return offBy;
    }

    Instant offAt() {
        return offAt;
    }
}
