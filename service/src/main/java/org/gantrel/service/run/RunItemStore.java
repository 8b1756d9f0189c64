package org.gantrel.service.run;

import java.util.List;
import org.gantrel.core.run.RunState;
import org.springframework.data.domain.Limit;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Query;

interface RunItemStore extends JpaRepository<RunItem, Long> {

    @Query("select i from RunItem i where i.runNumber = :run and i.id > :after and (:state is null or i.state = :state)"
            + " order by i.runNumber, i.id")
    List<RunItem> page(long run, long after, RunState state, Limit limit);

    @Query(
            "select i from RunItem i where i.name in :names and i.runNumber in (select r.number from RunRecord r"
                    + " where r.jobId = :job and r.teamId = :team and r.number <= :run and r.number > :since) order by i.runNumber desc, i.id")
    List<RunItem> before(long job, long team, long run, long since, List<String> names, Limit limit);

    long countByRunNumber(long run);

    long countByRunNumberAndState(long run, RunState state);
}
