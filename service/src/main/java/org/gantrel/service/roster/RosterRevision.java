package org.gantrel.service.roster;

import jakarta.persistence.Entity;
import jakarta.persistence.Table;
import java.time.Instant;
import org.gantrel.service.change.Revision;

/** What a roster was defined as from one change to the next. */
@Entity
@Table(name = "roster_revision")
final class RosterRevision extends Revision {

    private Long rosterId;

    protected RosterRevision() {}

    RosterRevision(RosterRecord roster, String definition, String madeBy, Instant madeAt) {
        super(roster.revision(), definition, madeBy, madeAt);
        this.rosterId = roster.id();
    }
}
