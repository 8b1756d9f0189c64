package org.gantrel.service.schedule;

import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import org.springframework.data.domain.Limit;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Modifying;
import org.springframework.data.jpa.repository.Query;

interface OccurrenceStore extends JpaRepository<OccurrenceRecord, Long> {

    Optional<OccurrenceRecord> findTopByScheduleIdOrderByAtDesc(long scheduleId);

    @Modifying
    @Query("delete from OccurrenceRecord o where o.runNumber in :runs")
    void deleteOf(Collection<Long> runs);

    Optional<OccurrenceRecord> findByScheduleIdAndAt(long scheduleId, Instant at);

    @Query("select o from OccurrenceRecord o where o.scheduleId in :schedules and o.at >= :from")
    List<OccurrenceRecord> since(Collection<Long> schedules, Instant from);

    List<OccurrenceRecord> findByScheduleIdAndAtLessThanOrderByAtDesc(long scheduleId, Instant before, Limit limit);
}
