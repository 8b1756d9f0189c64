package org.gantrel.service.fault;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import org.gantrel.core.notification.FaultCourse.Told;

/** How far a rule has told of a fault. */
@Entity
@Table(name = "fault_told")
final class FaultTold {

    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    private Long id;

    private long faultId;
    private String rule;
    private Instant firstAt;
    private Instant lastAt;
    private int steps;

    protected FaultTold() {}

    FaultTold(long fault, String rule) {
        this.faultId = fault;
        this.rule = rule;
    }

    void told(Told now) {
        firstAt = now.first();
        lastAt = now.last();
        steps = now.steps();
    }

    String rule() {
        return rule;
    }

    Told value() {
        return new Told(firstAt, lastAt, steps);
    }
}
