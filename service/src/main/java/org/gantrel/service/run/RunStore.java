package org.gantrel.service.run;

import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import org.gantrel.core.run.CauseKind;
import org.gantrel.core.run.RunState;
import org.springframework.data.domain.Limit;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Query;

interface RunStore extends JpaRepository<RunRecord, Long> {

    List<RunRecord> findByStateOrderByPlannedAtAscNumberAsc(RunState state, Limit limit);

    List<RunRecord> findByStateAndKind(RunState state, String kind);

    List<RunRecord> findByParentAndStateIn(long parent, Collection<RunState> states);

    @Query("select r from RunRecord r where r.sealed <> ''")
    List<RunRecord> sealed();

    @Query("select r.number from RunRecord r where r.jobId = :job and r.finishedAt < :before order by r.number desc")
    List<Long> endedBefore(long job, Instant before, Limit limit);

    @Query("select max(r.number) from RunRecord r")
    Optional<Long> highest();

    List<RunRecord> findByParentOrderByNumber(long parent);

    Optional<RunRecord> findTopByJobIdOrderByNumberDesc(long jobId);

    List<RunRecord> findTop20ByJobIdAndStateInOrderByNumberDesc(long jobId, Collection<RunState> states);

    List<RunRecord> findByCauseRefAndCauseOrderByNumber(String causeRef, CauseKind cause);

    @Query(
            """
            select r.state, count(r) from RunRecord r
            where r.teamId in :teams and r.parent is null and r.plannedAt >= :from and r.plannedAt < :until
            group by r.state""")
    List<Object[]> countByState(Collection<Long> teams, Instant from, Instant until);

    @Query("select r.state, count(r) from RunRecord r group by r.state")
    List<Object[]> countAll();

    @Query(
            """
            select r from RunRecord r
            where r.teamId in :teams and r.plannedAt >= :from and r.plannedAt < :until and r.cause <> 'SWEEP'
            order by r.plannedAt, r.number""")
    List<RunRecord> planned(Collection<Long> teams, Instant from, Instant until, Limit limit);
}
