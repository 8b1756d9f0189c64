package org.gantrel.service.hold;

import jakarta.persistence.Entity;
import jakarta.persistence.EnumType;
import jakarta.persistence.Enumerated;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import java.util.Optional;
import org.hibernate.annotations.DynamicUpdate;

/** A hold as it is kept. */
@Entity
@DynamicUpdate
@Table(name = "hold")
final class HoldRecord {

    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    private Long id;

    @Enumerated(EnumType.STRING)
    private Hold.Scope scope;

    private String name;
    private Long teamId;
    private Instant fromAt;
    private Instant untilAt;
    private boolean skips;
    private boolean stops;
    private boolean stopped;
    private String why;
    private String person;
    private Instant endedAt;
    private String endedBy = "";

    protected HoldRecord() {}

    HoldRecord(Hold hold, Long team) {
        this.scope = hold.scope();
        this.name = hold.name();
        this.teamId = team;
        this.fromAt = hold.from();
        this.untilAt = hold.until().orElse(null);
        this.skips = hold.skips();
        this.stops = hold.stops();
        this.why = hold.why();
        this.person = hold.person();
    }

    void end(Instant at, String by) {
        endedAt = at;
        endedBy = by;
    }

    boolean isEnded() {
        return endedAt != null;
    }

    void stopped() {
        stopped = true;
    }

    Hold value() {
        return new Hold(
                id,
                scope,
                name,
                Optional.ofNullable(teamId),
                fromAt,
                Optional.ofNullable(untilAt),
                skips,
                stops,
                stopped,
                why,
                person,
                Optional.ofNullable(endedAt),
                endedBy);
    }
}
