package org.gantrel.service.schedule;

import jakarta.persistence.Entity;
import jakarta.persistence.FetchType;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.ManyToOne;
import jakarta.persistence.Table;
import java.time.Instant;
import java.time.ZoneId;
import org.gantrel.core.job.Schedule;
import org.gantrel.core.when.Timetable;
import org.gantrel.core.when.When;
import org.gantrel.service.job.JobRecord;

/** A schedule while it is at work: its switch, and the first occurrence that is not accounted for yet. */
@Entity
@Table(name = "schedule")
class ScheduleRecord {

    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    private Long id;

    @ManyToOne(fetch = FetchType.LAZY)
    private JobRecord job;

    private String name;
    private String rule;
    private String zone;
    private boolean switchedOn;
    private boolean retired;
    private Instant nextAt;

    protected ScheduleRecord() {}

    ScheduleRecord(JobRecord job, Schedule schedule, Instant now) {
        this.job = job;
        this.name = schedule.name();
        this.rule = schedule.when();
        this.zone = schedule.zone().getId();
        this.switchedOn = schedule.on();
        planFrom(now);
    }

    /** Takes on what a new revision of the job says; the switch stays as people have set it. */
    void follow(Schedule schedule, Instant now) {
        boolean moved = retired
                || !rule.equals(schedule.when())
                || !zone.equals(schedule.zone().getId());
        rule = schedule.when();
        zone = schedule.zone().getId();
        retired = false;
        if (moved) {
            planFrom(now);
        }
    }

    void switchTo(boolean on, Instant now) {
        switchedOn = on;
        planFrom(now);
    }

    void retire() {
        retired = true;
        nextAt = null;
    }

    void accountedUpTo(Instant next) {
        nextAt = next;
    }

    /** Everything due after an instant is to be accounted for. */
    void planFrom(Instant now) {
        nextAt = switchedOn ? timetable().next(now, zone()).orElse(null) : null;
    }

    Long id() {
        return id;
    }

    JobRecord job() {
        return job;
    }

    String name() {
        return name;
    }

    String rule() {
        return rule;
    }

    ZoneId zone() {
        return ZoneId.of(zone);
    }

    boolean isOn() {
        return switchedOn;
    }

    boolean isRetired() {
        return retired;
    }

    Instant nextAt() {
        return nextAt;
    }

    Timetable timetable() {
        return When.parse(rule);
    }
}
