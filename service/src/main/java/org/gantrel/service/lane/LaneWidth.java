package org.gantrel.service.lane;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;

/** How wide a lane was from a moment on, until the next of these. */
@Entity
@Table(name = "lane_width")
final class LaneWidth {

    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    private Long id;

    private Long laneId;
    private Instant since;
    private int width;

    protected LaneWidth() {}

    LaneWidth(LaneRecord lane, Instant since) {
        this.laneId = lane.id();
        this.since = since;
        this.width = lane.width();
    }

    Instant since() {
        return since;
    }

    int width() {
        return width;
    }
}
