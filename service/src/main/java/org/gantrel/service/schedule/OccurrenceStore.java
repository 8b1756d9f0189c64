package org.gantrel.service.schedule;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.springframework.data.domain.Limit;
import org.springframework.data.jpa.repository.JpaRepository;

interface OccurrenceStore extends JpaRepository<OccurrenceRecord, Long> {

    Optional<OccurrenceRecord> findTopByScheduleIdOrderByAtDesc(long scheduleId);

    List<OccurrenceRecord> findByScheduleIdAndAtLessThanOrderByAtDesc(long scheduleId, Instant before, Limit limit);
}
