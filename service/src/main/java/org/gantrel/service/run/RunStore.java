package org.gantrel.service.run;

import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import org.gantrel.core.run.CauseKind;
import org.gantrel.core.run.RunState;
import org.springframework.data.domain.Limit;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Modifying;
import org.springframework.data.jpa.repository.Query;
import org.springframework.transaction.annotation.Transactional;

interface RunStore extends JpaRepository<RunRecord, Long> {

    @Query("select r from RunRecord r where r.state in :open and r.deadline is not null order by r.deadline")
    List<RunRecord> withDeadline(Collection<RunState> open);

    @Query("select r.number from RunRecord r where r.jobId = :job and r.number <= :most order by r.number desc")
    List<Long> latestNumbers(long job, long most, Limit limit);

    @Query(
            """
            select new org.gantrel.service.run.Waiter(r.number, r.waitingFor) from RunRecord r
            where r.state = 'WAITING' and r.waitingFor like '%lane %' order by r.number""")
    List<Waiter> waitingInLanes();

    @Query("select r.number from RunRecord r where r.state = :state order by r.number")
    List<Long> numbers(RunState state);

    List<RunRecord> findByStateOrderByNumber(RunState state);

    @Modifying
    @Query(
            """
            update RunRecord r set r.waitingFor = :what
            where r.number in :numbers and r.state = 'WAITING' and r.waitingFor <> :what""")
    int holdBack(Collection<Long> numbers, String what);

    // beside the engine, and without a new version: no move of a run is to fail for it
    @Modifying
    @Query("update RunRecord r set r.late = true where r.number = :number and r.late = false and r.finishedAt is null")
    int late(long number);

    @Modifying
    @Query(
            """
            update RunRecord r set r.unusuallyLong = true
            where r.number = :number and r.unusuallyLong = false and r.finishedAt is null""")
    int unusuallyLong(long number);

    @Modifying
    @Query("update RunRecord r set r.takenBy = :person where r.number = :number")
    void takeCharge(long number, String person);

    long countByState(RunState state);

    long countByStateAndKind(RunState state, String kind);

    List<RunRecord> findByStateAndKindOrderByNumber(RunState state, String kind);

    @Query(
            """
            select count(r) from RunRecord r
            where r.state in :states and r.jobId = :job and r.cause = :cause and r.causeRef = :schedule""")
    long countUnderway(long job, String schedule, CauseKind cause, Collection<RunState> states);

    @Query("select r.number from RunRecord r where r.parent = :parent and r.state in :states order by r.number")
    List<Long> unended(long parent, Collection<RunState> states);

    @Query("select max(r.turn) from RunRecord r where r.parent = :chain and r.step = :step")
    Optional<Integer> lastTurn(long chain, String step);

    @Query("select r from RunRecord r where r.number in :numbers and r.state not in :open")
    List<RunRecord> endedOf(Collection<Long> numbers, Collection<RunState> open);

    @Query("select r.number from RunRecord r where r.sealed <> '' and r.number > :after order by r.number")
    List<Long> sealedAfter(long after, Limit limit);

    @Query("select r.sealed from RunRecord r where r.number = :number")
    String sealedOf(long number);

    @Modifying
    @Transactional
    @Query("update RunRecord r set r.sealed = :after where r.number = :number and r.sealed = :before")
    int sealAgain(long number, String before, String after);

    @Query("select max(r.number) from RunRecord r")
    Optional<Long> highest();

    List<RunRecord> findByParentOrderByNumber(long parent);

    Optional<RunRecord> findTopByJobIdOrderByNumberDesc(long jobId);

    Optional<RunRecord> findTopByJobIdAndStateInAndCauseNotOrderByNumberDesc(
            long jobId, Collection<RunState> states, CauseKind cause);

    List<RunRecord> findTop20ByJobIdAndKindNotAndStateInOrderByNumberDesc(
            long jobId, String kind, Collection<RunState> states);

    List<RunRecord> findTop20ByJobIdAndKindAndStateInOrderByNumberDesc(
            long jobId, String kind, Collection<RunState> states);

    List<RunRecord> findTop20ByJobIdAndStateInOrderByNumberDesc(long jobId, Collection<RunState> states);

    @Query(
            """
            select r.startedAt, r.finishedAt from RunRecord r where r.jobId = :job and r.kind <> 'sweep'
            and r.startedAt is not null and (r.finishedAt is null or r.finishedAt >= :since) order by r.number desc""")
    List<Object[]> spans(long job, Instant since, Limit limit);

    @Query(
            """
            select r from RunRecord r where r.jobId = :job and r.finishedAt >= :since and r.state in :states
            and r.cause <> 'SWEEP' order by r.finishedAt desc""")
    List<RunRecord> ended(long job, Instant since, Collection<RunState> states, Limit limit);

    @Query("select r.number from RunRecord r where r.causeRef = :ref and r.cause = :cause order by r.number")
    List<Long> repeats(String ref, CauseKind cause);

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
            order by r.plannedAt desc, r.number desc""")
    List<RunRecord> planned(Collection<Long> teams, Instant from, Instant until, Limit limit);

    @Query(
            """
            select max(r.number) from RunRecord r
            where r.teamId in :teams and r.plannedAt >= :from and r.plannedAt < :until and r.parent is null
            and r.state not in :going group by r.jobId""")
    List<Long> latestOfJobs(Collection<Long> teams, Instant from, Instant until, Collection<RunState> going);

    @Query(
            """
            select r from RunRecord r
            where r.jobId = :job and r.plannedAt >= :from and r.plannedAt < :until and r.parent is null
            and r.state not in :going order by r.number desc""")
    List<RunRecord> latest(long job, Instant from, Instant until, Collection<RunState> going, Limit limit);
}
