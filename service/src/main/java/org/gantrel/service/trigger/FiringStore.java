package org.gantrel.service.trigger;

import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import org.springframework.data.domain.Limit;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Modifying;
import org.springframework.data.jpa.repository.Query;

interface FiringStore extends JpaRepository<Firing, Long> {

    Optional<Firing> findByEventPositionAndJobIdAndTriggerName(long position, long job, String trigger);

    /** The starts of a span, and those that are still to come. */
    @Query("select f from Firing f where f.jobId = :job and f.triggerName = :trigger and f.outcome = 'STARTED' and"
            + " f.plannedAt > :since")
    List<Firing> startedSince(long job, String trigger, Instant since);

    @Query("select f from Firing f where f.jobId = :job and f.triggerName = :trigger and f.id < :before"
            + " order by f.jobId desc, f.triggerName desc, f.id desc")
    List<Firing> of(long job, String trigger, long before, Limit limit);

    List<Firing> findByEventPositionInOrderById(Collection<Long> positions);

    List<Firing> findByRunNumberInOrderById(Collection<Long> runs);

    @Modifying
    @Query("delete from Firing f where f.eventAt < :before")
    int thin(Instant before);
}
