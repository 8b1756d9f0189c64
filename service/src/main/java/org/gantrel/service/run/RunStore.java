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

/**
 * Where the newest of many are asked for, they are put in the order of an index from its first column on, also where that
 * column is the same for all of them, and a bound of the last column is given, which keeps H2 from the narrower index of a
 * foreign key: only then it takes them from the index's end, and reads and sorts a job's whole history otherwise. Likewise
 * {@code + 0L} and {@code coalesce} keep it from an index that holds far more than the span of time that is asked for.
 */
interface RunStore extends JpaRepository<RunRecord, Long> {

    @Query("select r from RunRecord r where r.state in :open and r.deadline is not null order by r.deadline")
    List<RunRecord> withDeadline(Collection<RunState> open);

    @Query("select r.number from RunRecord r where r.jobId = :job and r.number <= :most"
            + " order by r.jobId desc, r.number desc")
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

    // by their state, which few have; the additions keep H2 from the indexes that hold all that the schedule ever
    // started
    @Query(
            """
            select count(r) from RunRecord r
            where r.state in :states and r.jobId + 0L = :job and r.cause = :cause and coalesce(r.causeRef, '') = :schedule""")
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

    @Query(
            """
            select r from RunRecord r where r.jobId = :job and r.number > :after and r.state in :states and r.cause <> :but
            order by r.jobId desc, r.number desc""")
    List<RunRecord> newest(long job, long after, Collection<RunState> states, CauseKind but, Limit limit);

    @Query("select r from RunRecord r where r.jobId = :job and r.number > 0 order by r.jobId desc, r.number desc")
    List<RunRecord> newest(long job, Limit limit);

    /** The newest that is not a row of a sweep, from one on: all before that one need not be looked at. */
    @Query(
            """
            select r from RunRecord r where r.jobId = :job and r.number >= :from and r.cause <> 'SWEEP'
            order by r.jobId desc, r.number desc""")
    List<RunRecord> newestOwn(long job, long from, Limit limit);

    @Query(
            """
            select r from RunRecord r where r.jobId = :job and r.number > 0 and r.state in :states
            order by r.jobId desc, r.number desc""")
    List<RunRecord> newest(long job, Collection<RunState> states, Limit limit);

    @Query(
            """
            select r from RunRecord r where r.jobId = :job and r.number > 0 and r.state in :states and r.kind <> 'sweep'
            order by r.jobId desc, r.number desc""")
    List<RunRecord> newestSingle(long job, Collection<RunState> states, Limit limit);

    @Query(
            """
            select r.number from RunRecord r where r.jobId = :job and r.number < :before and r.kind <> 'sweep'
            and ((:row = true and r.cause = 'SWEEP') or (:row = false and r.cause <> 'SWEEP')) and r.state in :states
            order by r.jobId desc, r.number desc""")
    List<Long> goodBefore(long job, long before, boolean row, Collection<RunState> states, Limit limit);

    @Query(
            """
            select s.runNumber from SweepRecord s join RunRecord r on r.number = s.runNumber
            where s.jobId = :job and s.runNumber < :before and r.state in :states
            order by s.jobId desc, s.runNumber desc""")
    List<Long> goodSweepBefore(long job, long before, Collection<RunState> states, Limit limit);

    /** Sweeps are few among the runs of their rows, so that they are found by their own records. */
    @Query(
            """
            select r from SweepRecord s join RunRecord r on r.number = s.runNumber
            where s.jobId = :job and s.runNumber > 0 and r.state in :states order by s.jobId desc, s.runNumber desc""")
    List<RunRecord> newestSweeps(long job, Collection<RunState> states, Limit limit);

    @Query(
            """
            select new org.gantrel.service.run.Begun(
            r.number, r.revision, r.parent, r.cause, r.step, r.kind, r.attempt, r.state, r.startedAt, r.finishedAt)
            from RunRecord r where r.jobId = :job and r.number > 0 and r.kind <> 'sweep'
            and r.startedAt is not null and (r.finishedAt is null or r.finishedAt >= :since)
            order by r.jobId desc, r.number desc""")
    List<Begun> begun(long job, Instant since, Limit limit);

    @Query(
            """
            select a from RunRecord r join AttemptRecord a on a.runNumber = r.number
            where r.jobId = :job and r.number >= :first and r.attempt > 1 and a.finishedAt >= :since""")
    List<AttemptRecord> attempts(long job, long first, Instant since);

    // by their ends, the newest first; the additions keep H2 from reading all that the job ever ran, or all that went
    // well
    @Query(
            """
            select r from RunRecord r where r.jobId + 0L = :job and r.finishedAt >= :since
            and coalesce(r.state, r.state) in :states
            and r.cause <> 'SWEEP' order by r.finishedAt desc""")
    List<RunRecord> ended(long job, Instant since, Collection<RunState> states, Limit limit);

    @Query("select r.number from RunRecord r where r.causeRef = :ref and r.cause = :cause order by r.number")
    List<Long> repeats(String ref, CauseKind cause);

    @Query(
            """
            select r.teamId + 0L, r.state, count(r) from RunRecord r
            where coalesce(r.parent, 0L) = 0 and r.plannedAt >= :from and r.plannedAt < :until
            group by r.teamId + 0L, r.state""")
    List<Object[]> countByTeam(Instant from, Instant until);

    /** How many are in each state, but for those whose end somebody who reads the journal has still to come to. */
    @Query(
            """
            select r.state, count(r) from RunRecord r where r.number not in (
                select e.runNumber from EventRecord e
                where e.type = 'gantrel.run.ended' and e.position > :read and e.runNumber is not null)
            group by r.state""")
    List<Object[]> countUpTo(long read);

    @Query(
            """
            select r from RunRecord r
            where r.teamId + 0L in :teams and r.plannedAt >= :from and r.plannedAt < :until and r.cause <> 'SWEEP'
            order by r.plannedAt desc, r.number desc""")
    List<RunRecord> planned(Collection<Long> teams, Instant from, Instant until, Limit limit);

    /** Those that a span has of runs planned before it: they ended in it or soon after, if they have. */
    @Query(
            """
            select r from RunRecord r
            where r.teamId + 0L in :teams and r.finishedAt >= :from and r.finishedAt < :until
            and coalesce(r.plannedAt, r.plannedAt) < :from and r.cause <> 'SWEEP'
            order by r.plannedAt desc, r.number desc""")
    List<RunRecord> reachingInto(Collection<Long> teams, Instant from, Instant until, Limit limit);

    @Query(
            """
            select r from RunRecord r
            where r.state in :open and r.plannedAt < :before and r.teamId + 0L in :teams and r.cause <> 'SWEEP'
            order by r.plannedAt desc, r.number desc""")
    List<RunRecord> open(Collection<Long> teams, Instant before, Collection<RunState> open, Limit limit);

    /** Those whose end was written down in a span, whenever they ended: that of a command may be heard of late. */
    @Query(
            """
            select r from RunRecord r
            where r.number in (select e.runNumber from EventRecord e
                where coalesce(e.type, e.type) = 'gantrel.run.ended' and e.at > :from and e.at <= :until)
            and r.teamId + 0L in :teams and coalesce(r.parent, 0L) = 0
            order by r.number desc""")
    List<RunRecord> ended(Collection<Long> teams, Instant from, Instant until, Limit limit);

    /** For each job and state the latest end since a moment, of runs by themselves. */
    @Query(
            """
            select r.jobId, r.state, max(r.finishedAt) from RunRecord r
            where r.finishedAt >= :since and coalesce(r.parent, 0L) = 0
            and coalesce(r.state, r.state) in :states
            group by r.jobId, r.state""")
    List<Object[]> latestEnds(Instant since, Collection<RunState> states);

    @Query(
            """
            select r from RunRecord r
            where r.jobId + 0L = :job and r.finishedAt >= :from and r.finishedAt <= :until and r.cause <> 'SWEEP'
            order by r.finishedAt desc""")
    List<RunRecord> endedBetween(long job, Instant from, Instant until, Limit limit);

    List<RunRecord> findByJobIdAndStateAndFinishedAtAndParentIsNull(long job, RunState state, Instant end);

    @Query(
            """
            select r from RunRecord r
            where r.jobId = :job and r.number > 0 and r.parent is null and r.state in :states
            order by r.jobId desc, r.number desc""")
    List<RunRecord> latest(long job, Collection<RunState> states, Limit limit);
}
