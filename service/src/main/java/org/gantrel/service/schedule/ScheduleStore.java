package org.gantrel.service.schedule;

import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import org.springframework.data.domain.Limit;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Query;

interface ScheduleStore extends JpaRepository<ScheduleRecord, Long> {

    /** When a schedule has its next occurrence. */
    record Due(Long id, Instant at) {}

    @Query("select new org.gantrel.service.schedule.ScheduleStore$Due(s.id, s.nextAt) from ScheduleRecord s"
            + " where s.nextAt <= :until order by s.nextAt, s.id")
    List<Due> soon(Instant until, Limit limit);

    @Query("select s.id from ScheduleRecord s where s.nextAt <= :now order by s.nextAt, s.id")
    List<Long> due(Instant now, Limit limit);

    @Query("select min(s.nextAt) from ScheduleRecord s where s.id not in :except")
    Optional<Instant> earliest(Collection<Long> except);

    /** Holds schedules for the transaction under way, those but not that another holds. */
    @Query(
            value = "select * from schedule where id in (:ids) order by next_at, id for update skip locked",
            nativeQuery = true)
    List<ScheduleRecord> holdUnlessHeld(Collection<Long> ids);

    @Query("select s from ScheduleRecord s where s.jobId = :jobId order by s.id")
    List<ScheduleRecord> ofJob(long jobId);

    @Query(
            """
            select s from ScheduleRecord s join JobRecord j on j.id = s.jobId
            where s.retired = false and j.retired = false order by j.name, s.id""")
    List<ScheduleRecord> inUse();

    @Query(
            """
            select s from ScheduleRecord s join JobRecord j on j.id = s.jobId
            where s.retired = false and j.retired = false order by s.id""")
    List<ScheduleRecord> some(Limit limit);
}
