package org.gantrel.service.schedule;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Query;

interface ScheduleStore extends JpaRepository<ScheduleRecord, Long> {

    @Query(
            "select s from ScheduleRecord s join fetch s.job j join fetch j.team where s.nextAt <= :now order by s.nextAt")
    List<ScheduleRecord> due(Instant now);

    @Query("select min(s.nextAt) from ScheduleRecord s")
    Optional<Instant> earliest();

    @Query("select s from ScheduleRecord s where s.job.id = :jobId order by s.id")
    List<ScheduleRecord> ofJob(long jobId);

    @Query(
            """
            select s from ScheduleRecord s join fetch s.job j join fetch j.team
            where s.retired = false and j.retired = false order by j.name, s.id""")
    List<ScheduleRecord> inUse();
}
