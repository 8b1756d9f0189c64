package org.gantrel.service.sweep;

import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.springframework.data.domain.Limit;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Modifying;
import org.springframework.data.jpa.repository.Query;

interface SweepStore extends JpaRepository<SweepRecord, Long> {

    @Query("select s from SweepRecord s where s.rosterId = :roster and s.jobId = :job and s.runNumber < :before"
            + " and s.drawn = true order by s.rosterId desc, s.jobId desc, s.runNumber desc")
    List<SweepRecord> before(long roster, long job, long before, Limit limit);

    @Query("select max(s.runNumber) from SweepRecord s where s.rosterId = :roster")
    Optional<Long> lastOf(long roster);

    @Modifying
    @Query("delete from SweepRecord s where s.runNumber in :runs")
    void deleteOf(Collection<Long> runs);

    @Modifying
    @Query("update SweepRecord s set s.started = s.started + :started, s.succeeded = s.succeeded + :succeeded,"
            + " s.warned = s.warned + :warned, s.failed = s.failed + :failed, s.leftOut = s.leftOut + :leftOut,"
            + " s.notReached = s.notReached + :notReached"
            + " where s.runNumber = :sweep")
    void count(long sweep, int started, int succeeded, int warned, int failed, int leftOut, int notReached);

    @Modifying
    @Query("update SweepRecord s set s.sums = :sums where s.runNumber = :sweep")
    void give(long sweep, Map<String, String> sums);
}
