package org.gantrel.service.schedule;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import jakarta.persistence.Version;
import java.time.Instant;
import java.time.ZoneId;
import java.util.Optional;
import org.gantrel.core.job.Schedule;
import org.gantrel.core.schedule.Plan;
import org.hibernate.annotations.DynamicUpdate;

/** A schedule while it is at work: its switch, and the first occurrence that is not accounted for yet. */
@Entity
@DynamicUpdate
@Table(name = "schedule")
final class ScheduleRecord {

    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    private Long id;

    @Version
    private int version;

    private Long jobId;

    private String name;
    /** What the definition says of when, to see whether a new revision says anything else. */
    private String rule;

    private String zone;
    private boolean switchedOn;
    private boolean retired;
    private boolean offTogether;
    private Instant nextAt;
    /** The first occurrence that is not accounted for, while the schedule is off. */
    private Instant waitsFrom;

    private String switchedBy = "";
    private Instant switchedAt;

    protected ScheduleRecord() {}

    ScheduleRecord(long jobId, Schedule schedule) {
        this.jobId = jobId;
        this.name = schedule.name();
        this.rule = ruleOf(schedule);
        this.zone = schedule.zone().getId();
        this.switchedOn = schedule.on();
    }

    /** Takes on what a new revision of the job says; says whether its times are others now. The switch stays. */
    boolean follow(Schedule schedule) {
        boolean moved = retired
                || !rule.equals(ruleOf(schedule))
                || !zone.equals(schedule.zone().getId());
        rule = ruleOf(schedule);
        zone = schedule.zone().getId();
        retired = false;
        return moved;
    }

    /** All that a schedule says of when, but for its zone. */
    static String ruleOf(Schedule schedule) {
        return schedule.when() + " " + schedule.days() + schedule.window()
                + schedule.from().map(Object::toString).orElse("")
                + schedule.until().map(Object::toString).orElse("");
    }

    /** Switches it off; what comes due from then on waits to be accounted for. */
    void switchOff(String person, Instant now) {
        switchedOn = false;
        switchedBy = person;
        switchedAt = now;
        waitsFrom = nextAt;
        nextAt = null;
    }

    /** Switches it on; what came due meanwhile is accounted for, as its catch-up says. */
    void switchOn(String person, Plan plan, Instant now) {
        switchedOn = true;
        offTogether = false;
        switchedBy = person;
        switchedAt = now;
        if (waitsFrom == null) {
            planFrom(now, plan);
        } else {
            nextAt = waitsFrom;
            waitsFrom = null;
        }
    }

    /** Until when it was off, as far as its last switch tells; nothing where it was not. */
    Optional<Instant> offUntil() {
        return switchedOn ? Optional.ofNullable(switchedAt) : Optional.empty();
    }

    /** Whether it was switched off together with others, to be switched on with them again. */
    boolean isOffTogether() {
        return offTogether;
    }

    void offTogether() {
        offTogether = true;
    }

    /** Whether it was off at an instant of the past, as far as its last switch tells. */
    boolean wasOffAt(Instant instant) {
        return switchedOn && switchedAt != null && instant.isBefore(switchedAt);
    }

    void retire() {
        retired = true;
        nextAt = null;
        waitsFrom = null;
    }

    void accountedUpTo(Instant next) {
        nextAt = next;
    }

    /** Everything due after an instant is to be accounted for. */
    void planFrom(Instant now, Plan plan) {
        Instant next = plan.next(now).map(Plan.Occurrence::at).orElse(null);
        nextAt = switchedOn ? next : null;
        waitsFrom = switchedOn ? null : next;
    }

    /** Takes on a plan whose days are others now; what is due already stays to be accounted for. */
    void planAnew(Instant now, Plan plan) {
        Instant next = plan.next(now).map(Plan.Occurrence::at).orElse(null);
        if (switchedOn && (nextAt == null || nextAt.isAfter(now))) {
            nextAt = next;
        } else if (!switchedOn && (waitsFrom == null || waitsFrom.isAfter(now))) {
            waitsFrom = next;
        }
    }

    /** What is still to come by the clock as it is now is to be accounted for, though it was before. */
    void clockWentBack(Instant now, Plan plan) {
        if (switchedAt != null && switchedAt.isAfter(now)) {
            switchedAt = now;
        }
        planAnew(now, plan);
    }

    Long id() {
        return id;
    }

    Long jobId() {
        return jobId;
    }

    String name() {
        return name;
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

    /** The first occurrence that is not accounted for yet, be it that the schedule is off. */
    Optional<Instant> firstOpen() {
        return Optional.ofNullable(switchedOn ? nextAt : waitsFrom);
    }

    Instant switchedAt() {
        return switchedAt;
    }

    Instant nextAt() {
        return nextAt;
    }

    String switchedBy() {
        return switchedBy;
    }
}
