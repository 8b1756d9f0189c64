package org.gantrel.service.expect;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import java.util.Optional;
import org.hibernate.annotations.DynamicUpdate;

/** Something that was expected and has not come, from when it was noticed until it comes. */
@Entity
@DynamicUpdate
@Table(name = "silence")
final class SilenceRecord {

    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    private Long id;

    private long jobId;
    private String what;
    private Instant since;
    private Instant toldAt;
    private String message;
    private Instant endedAt;
    private String seenBy = "";

    protected SilenceRecord() {}

    SilenceRecord(long job, String what, Instant since, String message, Instant now) {
        this.jobId = job;
        this.what = what;
        this.since = since;
        this.message = message;
        this.toldAt = now;
    }

    void end(Instant now) {
        endedAt = now;
    }

    void seenTo(String person) {
        seenBy = person;
    }

    long id() {
        return id;
    }

    long jobId() {
        return jobId;
    }

    String what() {
        return what;
    }

    Instant since() {
        return since;
    }

    Instant toldAt() {
        return toldAt;
    }

    String message() {
        return message;
    }

    Optional<Instant> endedAt() {
        return Optional.ofNullable(endedAt);
    }

    String seenBy() {
        return seenBy;
    }
}
