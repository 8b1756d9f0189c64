package org.gantrel.service.fault;

import jakarta.persistence.Entity;
import jakarta.persistence.EnumType;
import jakarta.persistence.Enumerated;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import java.util.Optional;
import org.gantrel.core.run.RunState;
import org.gantrel.service.run.Run;
import org.hibernate.annotations.DynamicUpdate;

/** A failure of a job that goes on: from its first bad end to the good one that closes it. */
@Entity
// several write at the same time, each something else
@DynamicUpdate
@Table(name = "fault")
public final class FaultRecord {

    private static final int LONGEST_MESSAGE = 600;

    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    private Long id;

    private long jobId;
    private long teamId;
    private Instant openedAt;
    private long openedRun;
    private Instant lastAt;
    private long lastRun;
    private int badEnds;

    @Enumerated(EnumType.STRING)
    private RunState state;

    private String message;
    private Instant closedAt;
    private Long closedRun;
    private String seenBy = "";
    private Instant seenAt;
    private Instant nextAt;

    protected FaultRecord() {}

    FaultRecord(Run run, Instant at) {
        this.jobId = run.jobId();
        this.teamId = run.teamId();
        this.openedAt = at;
        this.openedRun = run.number();
        takeIn(run, at);
    }

    void takeIn(Run run, Instant at) {
        badEnds++;
        lastAt = at;
        lastRun = run.number();
        state = run.state();
        String said = run.message();
        message = said.length() <= LONGEST_MESSAGE ? said : said.substring(0, LONGEST_MESSAGE - 3) + "...";
    }

    void close(long run, Instant at) {
        closedAt = at;
        closedRun = run;
        nextAt = null;
    }

    /** Its job is out of use, so nothing will work again. */
    void closeWithout(Instant at) {
        closedAt = at;
        nextAt = null;
    }

    void seenTo(String person, Instant at) {
        seenBy = person;
        seenAt = person.isEmpty() ? null : at;
    }

    void next(Optional<Instant> at) {
        nextAt = at.orElse(null);
    }

    public Long id() {
        return id;
    }

    public long jobId() {
        return jobId;
    }

    public long teamId() {
        return teamId;
    }

    public Instant openedAt() {
        return openedAt;
    }

    public long openedRun() {
        return openedRun;
    }

    public Instant lastAt() {
        return lastAt;
    }

    public long lastRun() {
        return lastRun;
    }

    /** How many bad ends it has seen in a row. */
    public int badEnds() {
        return badEnds;
    }

    /** How its latest run ended. */
    public RunState state() {
        return state;
    }

    public String message() {
        return message;
    }

    public Optional<Instant> closedAt() {
        return Optional.ofNullable(closedAt);
    }

    public Optional<Long> closedRun() {
        return Optional.ofNullable(closedRun);
    }

    /** Who sees to it; empty where nobody does. */
    public String seenBy() {
        return seenBy;
    }

    public Optional<Instant> seenAt() {
        return Optional.ofNullable(seenAt);
    }
}
