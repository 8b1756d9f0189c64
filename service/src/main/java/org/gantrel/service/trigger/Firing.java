package org.gantrel.service.trigger;

import jakarta.persistence.Entity;
import jakarta.persistence.EnumType;
import jakarta.persistence.Enumerated;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import java.util.Locale;
import java.util.Optional;

/** What came of an event for a trigger. */
@Entity
@Table(name = "trigger_firing")
final class Firing {

    private static final int LONGEST_WHY = 600;

    /** What came of it. */
    enum Outcome {
        /** A run was written down. */
        STARTED,
        /** It went into a run that was still to begin. */
        GATHERED,
        /** Nothing, by what the trigger says. */
        DROPPED,
        /** Nothing, since the start could not be made. */
        REFUSED;

        String word() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    private Long id;

    private long eventPosition;
    private long jobId;
    private String triggerName;
    private Instant eventAt;

    @Enumerated(EnumType.STRING)
    private Outcome outcome;

    private Long runNumber;
    private Instant plannedAt;
    private String why;

    protected Firing() {}

    Firing(long position, Instant at, Listening by, Outcome outcome, String why) {
        this.eventPosition = position;
        this.eventAt = at;
        this.jobId = by.job();
        this.triggerName = by.trigger().name();
        this.outcome = outcome;
        this.why = why.length() <= LONGEST_WHY ? why : why.substring(0, LONGEST_WHY);
    }

    /** The same with the run that it went into. */
    Firing into(long run, Instant planned) {
        this.runNumber = run;
        this.plannedAt = planned;
        return this;
    }

    long id() {
        return id;
    }

    long eventPosition() {
        return eventPosition;
    }

    long jobId() {
        return jobId;
    }

    String triggerName() {
        return triggerName;
    }

    Instant eventAt() {
        return eventAt;
    }

    Outcome outcome() {
        return outcome;
    }

    Optional<Long> run() {
        return Optional.ofNullable(runNumber);
    }

    Optional<Instant> planned() {
        return Optional.ofNullable(plannedAt);
    }

    String why() {
        return why;
    }
}
