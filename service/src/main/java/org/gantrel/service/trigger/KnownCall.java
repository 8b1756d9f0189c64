package org.gantrel.service.trigger;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;

/** A call from outside that was taken: made again, it is answered the same. */
@Entity
@Table(name = "trigger_call")
final class KnownCall {

    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    private Long id;

    private long jobId;
    private String triggerName;
    private String callKey;
    private long eventPosition;
    private Instant madeAt;

    protected KnownCall() {}

    KnownCall(Listening by, String key, long event, Instant at) {
        this.jobId = by.job();
        this.triggerName = by.trigger().name();
        this.callKey = key;
        this.eventPosition = event;
        this.madeAt = at;
    }

    long eventPosition() {
        return eventPosition;
    }
}
