package org.gantrel.service.lane;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;

interface LaneWidthStore extends JpaRepository<LaneWidth, Long> {

    Optional<LaneWidth> findFirstByLaneIdAndSinceLessThanEqualOrderByIdDesc(long laneId, Instant at);

    List<LaneWidth> findByLaneIdAndSinceGreaterThanOrderById(long laneId, Instant at);
}
