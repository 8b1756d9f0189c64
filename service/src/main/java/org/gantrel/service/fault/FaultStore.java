package org.gantrel.service.fault;

import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import org.springframework.data.domain.Limit;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Query;

interface FaultStore extends JpaRepository<FaultRecord, Long> {

    Optional<FaultRecord> findFirstByJobIdAndClosedAtIsNullOrderByIdDesc(long job);

    List<FaultRecord> findByClosedAtIsNullOrderById();

    @Query("select f from FaultRecord f where f.nextAt <= :now order by f.nextAt, f.id")
    List<FaultRecord> due(Instant now, Limit limit);

    @Query("select min(f.nextAt) from FaultRecord f")
    Optional<Instant> earliest();

    @Query("select f.jobId from FaultRecord f where f.closedAt is null")
    List<Long> openJobs();

    @Query("select f from FaultRecord f where f.id < :before and f.teamId in :teams and (:open = false or f.closedAt is"
            + " null) and (:job = 0 or f.jobId = :job) order by f.id desc")
    List<FaultRecord> before(long before, Collection<Long> teams, boolean open, long job, Limit limit);
}
