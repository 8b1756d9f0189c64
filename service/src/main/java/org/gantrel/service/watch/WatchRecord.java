package org.gantrel.service.watch;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import java.util.Optional;

/** A watch that has looked before, with what it remembers beside the files themselves. */
@Entity
@Table(name = "watch")
final class WatchRecord {

    private static final int LONGEST_TROUBLE = 600;

    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    private Long id;

    private long jobId;
    private String triggerName;
    private String looksAt;
    private Instant beganAt;
    private Instant cameAt;
    private boolean silent;
    private String trouble = "";
    private Instant lookedAt;

    protected WatchRecord() {}

    WatchRecord(long job, String trigger, String looksAt, Instant now) {
        this.jobId = job;
        this.triggerName = trigger;
        this.looksAt = looksAt;
        this.beganAt = now;
        this.cameAt = now;
    }

    /** Notes a look that went well. @param came whether something had come */
    void looked(Instant now, boolean came) {
        lookedAt = now;
        trouble = "";
        if (came) {
            cameAt = now;
            silent = false;
        }
    }

    void fellSilent() {
        silent = true;
    }

    /** Notes why it cannot look. */
    void failed(String why) {
        trouble = why.length() <= LONGEST_TROUBLE ? why : why.substring(0, LONGEST_TROUBLE);
    }

    long jobId() {
        return jobId;
    }

    String triggerName() {
        return triggerName;
    }

    String looksAt() {
        return looksAt;
    }

    Instant cameAt() {
        return cameAt;
    }

    boolean isSilent() {
        return silent;
    }

    String trouble() {
        return trouble;
    }

    Optional<Instant> lookedAt() {
        return Optional.ofNullable(lookedAt);
    }
}
