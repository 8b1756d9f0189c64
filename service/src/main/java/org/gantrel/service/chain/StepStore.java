package org.gantrel.service.chain;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.gantrel.core.run.RunState;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Query;

interface StepStore extends JpaRepository<StepRecord, Long> {

    List<StepRecord> findByRunNumber(long run);

    @Query("select distinct s.runNumber from StepRecord s where s.place = 'UNDER_WAY' and s.untilAt <= :now")
    List<Long> due(Instant now);

    @Query("select min(s.untilAt) from StepRecord s where s.place = 'UNDER_WAY' and s.untilAt > :after")
    Optional<Instant> next(Instant after);

    @Query("select s from StepRecord s where s.meeting = :meeting and s.matched = :matched")
    List<StepRecord> meeting(String meeting, String matched);

    @Query(
            """
            select s from StepRecord s where s.place = 'UNDER_WAY' and s.state = :state and s.child is null
            order by s.beganAt""")
    List<StepRecord> withoutRun(RunState state);
}
