package org.gantrel.service.chain;

import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import org.gantrel.core.run.RunState;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Query;

interface StepStore extends JpaRepository<StepRecord, Long> {

    @Query("select s.step, s.place, s.state from StepRecord s where s.runNumber = :run and s.place <> 'PENDING'")
    List<Object[]> places(long run);

    Optional<StepRecord> findByRunNumberAndStep(long run, String step);

    List<StepRecord> findByRunNumberAndStepIn(long run, Collection<String> steps);

    List<StepRecord> findByRunNumber(long run);

    @Query(
            """
            select s from StepRecord s where s.runNumber = :run and s.place = 'UNDER_WAY'
            and (s.child is null or s.untilAt is not null)""")
    List<StepRecord> waiting(long run);

    @Query(
            """
            select s from StepRecord s, RunRecord r where s.runNumber = :run and s.place = 'UNDER_WAY'
            and s.untilAt is null and r.number = s.child and r.state not in :open""")
    List<StepRecord> ended(long run, Collection<RunState> open);

    /** What ran nothing and ended well in the latest runs of a chain: the step, when it began and ended. */
    @Query(
            """
            select s.step, s.beganAt, s.endedAt from StepRecord s
            where s.child is null and s.place = 'ENDED' and s.state = 'SUCCEEDED'
            and s.beganAt is not null and s.endedAt is not null and s.runNumber in (
              select r.number from RunRecord r where r.jobId = :job order by r.number desc limit :latest)""")
    List<Object[]> withoutRunLately(long job, int latest);

    /** What became of steps in those of the latest runs of a chain that ended in certain ways: the step, its place and turns. */
    @Query(
            """
            select s.step, s.place, s.turn from StepRecord s, RunRecord n
            where n.number = s.runNumber and n.state in :states and s.place in ('OUT_OF_REACH', 'ENDED')
            and s.runNumber in (
              select r.number from RunRecord r where r.jobId = :job order by r.number desc limit :latest)""")
    List<Object[]> placesLately(long job, int latest, Collection<RunState> states);

    @Query("select s.step from StepRecord s where s.runNumber = :run and s.place = 'UNDER_WAY'")
    List<String> underWay(long run);

    @Query("select distinct s.runNumber from StepRecord s where s.place = 'UNDER_WAY' and s.untilAt <= :now")
    List<Long> due(Instant now);

    @Query("select distinct s.runNumber from StepRecord s where s.place = 'UNDER_WAY' and s.untilAt is not null")
    List<Long> timed();

    @Query("select min(s.untilAt) from StepRecord s where s.place = 'UNDER_WAY' and s.untilAt > :after")
    Optional<Instant> next(Instant after);

    @Query(
            """
            select distinct r.jobName from StepRecord s, RunRecord r
            where s.meeting = :meeting and s.matched = :matched and r.number = s.runNumber and r.jobName <> :own
            and (s.place = 'UNDER_WAY' or s.place = 'ENDED' and s.state = 'SUCCEEDED') order by r.jobName""")
    List<String> comers(String meeting, String matched, String own);

    @Query(
            """
            select s.runNumber from StepRecord s
            where s.meeting = :meeting and s.matched = :matched and s.place = 'UNDER_WAY'""")
    List<Long> waitingAt(String meeting, String matched);

    @Query(
            """
            select s from StepRecord s where s.place = 'UNDER_WAY' and s.state = :state and s.child is null
            order by s.beganAt""")
    List<StepRecord> withoutRun(RunState state);
}
