package org.gantrel.service.change;

import java.util.Collection;
import java.util.List;
import org.springframework.data.domain.Limit;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Query;

interface ChangeStore extends JpaRepository<ChangeRecord, Long> {

    @Query("select c from ChangeRecord c where c.id < :before and (:all = true or c.team in :teams) order by c.id desc")
    List<ChangeRecord> before(long before, boolean all, Collection<String> teams, Limit limit);
}
