package org.gantrel.service.run;

import java.util.List;
import org.gantrel.core.run.RunState;
import org.springframework.data.domain.Limit;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Query;

interface RunItemStore extends JpaRepository<RunItem, Long> {

    @Query("select i from RunItem i where i.runNumber = :run and i.id > :after and (:state is null or i.state = :state)"
            + " order by i.id")
    List<RunItem> page(long run, long after, RunState state, Limit limit);

    long countByRunNumber(long run);

    long countByRunNumberAndState(long run, RunState state);
}
