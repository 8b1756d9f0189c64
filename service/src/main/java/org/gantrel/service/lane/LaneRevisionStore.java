package org.gantrel.service.lane;

import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;

interface LaneRevisionStore extends JpaRepository<LaneRevision, Long> {

    Optional<LaneRevision> findByLaneIdAndRevision(long laneId, int revision);
}
