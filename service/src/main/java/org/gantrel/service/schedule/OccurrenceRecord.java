package org.gantrel.service.schedule;

import jakarta.persistence.Entity;
import jakarta.persistence.EnumType;
import jakarta.persistence.Enumerated;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;

/** What became of one instant that a schedule stood for. The database holds each instant of a schedule once. */
@Entity
@Table(name = "occurrence")
final class OccurrenceRecord {

    /** What became of it. */
    enum Outcome {
        STARTED,
        MISSED,
        SKIPPED
    }

    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    private Long id;

    private Long scheduleId;
    private Instant at;

    @Enumerated(EnumType.STRING)
    private Outcome outcome;

    private String reason;
    private Long runNumber;

    protected OccurrenceRecord() {}

    OccurrenceRecord(ScheduleRecord schedule, Instant at, Outcome outcome, String reason, Long runNumber) {
        this.scheduleId = schedule.id();
        this.at = at;
        this.outcome = outcome;
        this.reason = reason;
        this.runNumber = runNumber;
    }

    long scheduleId() {
        return scheduleId;
    }

    Instant at() {
        return at;
    }

    Outcome outcome() {
        return outcome;
    }

    String reason() {
        return reason;
    }

    /** Its run; nothing where the schedule was off. */
    Long runNumber() {
        return runNumber;
    }
}
