package org.gantrel.service.lane;

import jakarta.persistence.Entity;
import jakarta.persistence.Table;
import java.time.Instant;
import org.gantrel.service.change.Revision;

/** What a lane was defined as from one change to the next. */
@Entity
@Table(name = "lane_revision")
final class LaneRevision extends Revision {

    private Long laneId;

    protected LaneRevision() {}

    LaneRevision(LaneRecord lane, String definition, String madeBy, Instant madeAt) {
        super(lane.revision(), definition, madeBy, madeAt);
        this.laneId = lane.id();
    }
}
