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

    // in the order of an index, and with a bound, which keeps H2 from the narrower index of the foreign key
    @Query(
            """
            select o from OccurrenceRecord o where o.scheduleId = :schedule and o.at < :before
            order by o.scheduleId desc, o.at desc""")
    List<OccurrenceRecord> before(long schedule, Instant before, Limit limit);

    default Optional<OccurrenceRecord> last(long schedule) {
        return before(schedule, Instant.parse("9999-12-31T00:00:00Z"), Limit.of(1)).stream()
                .findFirst();
    }

    @Modifying
    @Query("delete from OccurrenceRecord o where o.runNumber in :runs")
    void deleteOf(Collection<Long> runs);

    @Modifying
    @Query(
            "delete from OccurrenceRecord o where o.scheduleId in :schedules and o.at > :after and o.outcome <> 'STARTED'")
    void deleteNotStarted(Collection<Long> schedules, Instant after);

    Optional<OccurrenceRecord> findByScheduleIdAndAt(long scheduleId, Instant at);

    @Query("select o from OccurrenceRecord o where o.scheduleId in :schedules and o.at >= :from")
    List<OccurrenceRecord> since(Collection<Long> schedules, Instant from);
}
